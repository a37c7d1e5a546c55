package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.dialect.Dialect.Answer;
import java.time.Duration;
import java.util.List;

/**
 * Commands and their answers, one at a time, whatever carries them: a line of characters, requests
 * over HTTPS, objects over SNMP.
 */
interface Exchange extends AutoCloseable {
    /**
     * An answer, as text.
     *
     * @param lineEnded whether the device dropped the line instead of answering to the end
     */
    record Said(String text, boolean lineEnded) {}

    /**
     * Says one command.
     *
     * @param answers to questions that may come
     * @param endsLine whether the end of the line is an answer too
     * @throws DeviceTrouble when the device refuses, asks something that nobody foresaw, stays
     *     silent, or drops the line
     */
    Said command(String command, List<Answer> answers, Duration within, boolean endsLine);

    /** Trouble in this dialect's words, secrets masked; with the last lines of what was said. */
    DeviceTrouble trouble(Kind kind, String expected, String seen, String remedy, String lastTalk);

    @Override
    void close();
}
