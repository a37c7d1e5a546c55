package calmstep.core.plan;

import java.util.List;
import java.util.Set;

/**
 * What a run can do with the devices of a family, beyond bringing an image of the system and
 * restarting into it.
 *
 * @param installs components beside the system that it can move
 * @param restartsMembers whether members can restart one after the other
 * @param preLoads whether dependents can be brought an image ahead
 * @param putsBack whether a whole configuration can be written into a device
 * @param takesFromMedium whether one copies from a medium that is plugged into it
 * @param feeds whether one of them can send files on to others
 * @param rescues whether one that stands in its boot loader can be started from its memory
 * @param drains whether its traffic can be told to go another way, and back
 * @param cannotGive what cannot be backed up from them, as sentences
 */
public record Abilities(
        Set<String> installs,
        boolean restartsMembers,
        boolean preLoads,
        boolean putsBack,
        boolean takesFromMedium,
        boolean feeds,
        boolean rescues,
        boolean drains,
        List<String> cannotGive) {
    public static final Abilities PLAIN =
            new Abilities(Set.of(), false, false, false, false, false, false, false, List.of());

    public Abilities {
        installs = Set.copyOf(installs);
        cannotGive = List.copyOf(cannotGive);
    }
}
