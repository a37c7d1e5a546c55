package calmstep.core.step;

/**
 * Where the runner writes down what it is about to do. Each call is durable when it returns; when
 * it throws, nothing was done.
 */
public interface Journal {
    void looking();

    void acting(Intent intent, String expected, String seen);

    void proving();
}
