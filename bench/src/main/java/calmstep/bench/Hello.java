package calmstep.bench;

/** The bare JVM that starts are compared with. */
final class Hello {
    private Hello() {}

    public static void main(String[] arguments) {
        System.out.println("hello");
    }
}
