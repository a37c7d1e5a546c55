package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.Optional;
import java.util.stream.Stream;

/** How a family of such units shows itself and is talked to. */
enum StackManner {
    TARNEL(
            "tarnel-t2",
            "TarnelT2_%s",
            "Tarnel %s, %s in stack, release %s",
            "1.3.6.1.4.1.32473.2",
            "t2-loader% ") {
        @Override
        void talk(Stack stack, InputStream in, OutputStream out) throws IOException {
            new TarnelShell(stack, in, out).run();
        }
    },
    BRANNOCH(
            "brannoch-b2",
            "BrannochB2_%s",
            "Brannoch %s, %s sides, release %s",
            "1.3.6.1.4.1.32473.3",
            "rescue: ") {
        @Override
        void talk(Stack stack, InputStream in, OutputStream out) throws IOException {
            new BrannochShell(stack, in, out).run();
        }
    };

    final String family;
    final String greeting;
    final String shows;
    final String object;
    final String loaderPrompt;

    StackManner(String family, String greeting, String shows, String object, String loaderPrompt) {
        this.family = family;
        this.greeting = greeting;
        this.shows = shows;
        this.object = object;
        this.loaderPrompt = loaderPrompt;
    }

    abstract void talk(Stack stack, InputStream in, OutputStream out) throws IOException;

    static Optional<StackManner> of(String family) {
        return Stream.of(values()).filter(manner -> manner.family.equals(family)).findFirst();
    }
}
