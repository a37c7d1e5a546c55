package calmstep.practice;

import java.util.Properties;

/**
 * What runs beside the system of one machine: its loader, and its board's firmware. Each is handed
 * over first and becomes what runs at a start; the machine keeps both in its memory.
 */
final class Firmware {
    private final MachineDescription description;
    private final Labels labels;
    private final Flash flash;
    private final Properties memory;

    Firmware(MachineDescription description, Labels labels, Flash flash, Properties memory) {
        this.description = description;
        this.labels = labels;
        this.flash = flash;
        this.memory = memory;
    }

    /**
     * At a start, before anything of the system: a loader is written by the old one, and one that
     * is damaged or meant for another family stays where it is.
     */
    void takeOver() {
        if (!loaderWaits().isEmpty()) {
            labels.check(flash.file(loaderWaits()))
                    .image()
                    .filter(
                            image ->
                                    image.component().equals("loader")
                                            && image.family().equals(description.family()))
                    .ifPresent(image -> memory.setProperty("loader", image.version()));
            memory.remove("loader-waits");
        }
        if (!boardWaits().isEmpty()) {
            memory.setProperty("board-firmware", boardWaits());
            memory.remove("board-waits");
        }
    }

    /**
     * An image hands firmware to the board while it starts; the board itself takes it over at the
     * next start.
     */
    void handToBoard(String firmware) {
        if (!firmware.isEmpty() && !board().isEmpty() && Releases.isOlder(board(), firmware)) {
            memory.setProperty("board-waits", firmware);
        }
    }

    void handToLoader(String file) {
        memory.setProperty("loader-waits", file);
    }

    /** Release of its board's firmware; empty where the family has none of its own. */
    String board() {
        return memory.getProperty("board-firmware", description.outfit().boardFirmware());
    }

    /** The firmware that its board becomes at the next start; empty for none. */
    String boardWaits() {
        return memory.getProperty("board-waits", "");
    }

    /** Release of its loader; empty where the family has none of its own. */
    String loader() {
        return memory.getProperty("loader", "");
    }

    /** The file that its loader becomes at the next start; empty for none. */
    String loaderWaits() {
        return memory.getProperty("loader-waits", "");
    }
}
