package calmstep.dialect;

/** Takes down what is typed to a device and what it answers; secrets are masked already. */
public interface Talk {
    Talk NONE =
            new Talk() {
                @Override
                public void typed(String text) {}

                @Override
                public void answered(String text) {}
            };

    void typed(String text);

    void answered(String text);
}
