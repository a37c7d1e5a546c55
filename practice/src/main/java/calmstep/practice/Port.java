package calmstep.practice;

import java.nio.file.Path;

/** What a stand-in is spoken to through. It is open while the stand-in answers. */
interface Port {
    /** Of a family that answers by SNMP alone. */
    Port NONE =
            new Port() {
                @Override
                public void open() {}

                @Override
                public void close() {}

                @Override
                public void useOtherKey(Path fresh) {}
            };

    void open();

    /** Drops every talk at once, as a machine does that goes down. */
    void close();

    /**
     * From now on it shows another key or certificate, as a machine that was replaced would. @param
     * fresh where that is kept
     */
    void useOtherKey(Path fresh);
}
