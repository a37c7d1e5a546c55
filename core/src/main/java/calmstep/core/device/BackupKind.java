package calmstep.core.device;

/**
 * What is pulled off a device to be kept: one of its two configurations, or something else that its
 * family can give.
 *
 * @param name small letters, digits and dashes
 */
public record BackupKind(String name) {
    public static final BackupKind RUNNING = new BackupKind("running");
    public static final BackupKind STARTUP = new BackupKind("startup");

    /** Whether it can be compared with what runs, and written back. */
    public boolean isConfiguration() {
        return equals(RUNNING) || equals(STARTUP);
    }

    public String words() {
        return isConfiguration() ? name + " configuration" : name;
    }

    @Override
    public String toString() {
        return name;
    }
}
