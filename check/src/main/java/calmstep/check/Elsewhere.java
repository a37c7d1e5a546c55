package calmstep.check;

import java.util.List;
import java.util.Locale;
import java.util.TimeZone;
import org.junit.platform.launcher.TestExecutionListener;
import org.junit.platform.launcher.TestPlan;

/**
 * Tests run as on a machine somewhere else, each day another one: with other digits, another first
 * day of the week, another small letter for I, and another day of the month. What a person reads
 * and what is computed must be the same everywhere.
 */
public final class Elsewhere implements TestExecutionListener {
    private static final List<String> LOCALES =
            List.of("ar-EG", "en-US", "tr-TR", "th-TH-u-ca-buddhist-nu-thai", "en-GB", "und");
    private static final List<String> ZONES =
            List.of(
                    "Pacific/Kiritimati",
                    "America/St_Johns",
                    "UTC",
                    "Asia/Kathmandu",
                    "Pacific/Pago_Pago");

    private final Locale home = Locale.getDefault();
    private final TimeZone zone = TimeZone.getDefault();

    @Override
    public void testPlanExecutionStarted(TestPlan plan) {
        Locale.setDefault(Locale.forLanguageTag(drawn(LOCALES)));
        TimeZone.setDefault(TimeZone.getTimeZone(drawn(ZONES)));
        System.out.printf(
                Locale.ROOT, "As on a machine of %s in %s%n", drawn(LOCALES), drawn(ZONES));
    }

    /** How many tests there were is told in the digits of here. */
    @Override
    public void testPlanExecutionFinished(TestPlan plan) {
        Locale.setDefault(home);
        TimeZone.setDefault(zone);
    }

    /** What another Java process has to be told to be there too. */
    public static List<String> options() {
        return List.of(
                "-Duser.language=" + Locale.getDefault().getLanguage(),
                "-Duser.country=" + Locale.getDefault().getCountry(),
                "-Duser.timezone=" + TimeZone.getDefault().getID());
    }

    private static String drawn(List<String> of) {
        return of.get((int) Math.floorMod(Sweep.ofTheDay(), (long) of.size()));
    }
}
