package calmstep.core.order;

import java.time.Duration;
import java.util.List;

/** One move of an order. */
public sealed interface RollingMove {
    /** Time in which the unit serves nobody; of most moves none. */
    default Duration dark() {
        return Duration.ZERO;
    }

    /** Time that the move takes, the dark one counted. */
    default Duration takes() {
        return dark();
    }

    /** In words, for people. */
    String sentence();

    /**
     * The image reaches every member before any of them restarts; its time is that of staging,
     * which disturbs nobody.
     */
    record BringImage(int members, String to) implements RollingMove {
        @Override
        public String sentence() {
            return "%s brought to all %s members before any of them restarts"
                    .formatted(to, members);
        }
    }

    /** Members restart into a release while the unit goes on serving. */
    record RestartMembers(List<String> members, String from, String to, Duration takes)
            implements RollingMove {
        public RestartMembers {
            members = List.copyOf(members);
        }

        @Override
        public String sentence() {
            return "%s %s from %s into %s while the unit goes on serving"
                    .formatted(
                            String.join(" and ", members),
                            members.size() == 1 ? "restarts" : "restart",
                            from,
                            to);
        }
    }

    /**
     * The traffic of the active member goes over another one, while both serve; for how long is up
     * to what goes over it.
     */
    record Drain(String member) implements RollingMove {
        @Override
        public String sentence() {
            return "%s is drained: nothing goes over it any more before it hands over"
                    .formatted(member);
        }
    }

    /** Another member becomes the active one. */
    record HandOver(String fromMember, String toMember, Duration dark, Duration takes)
            implements RollingMove {
        @Override
        public String sentence() {
            return "%s hands over to %s".formatted(fromMember, toMember);
        }

        /** The next one, of whoever is active then. */
        HandOver onTo(String member) {
            String active = toMember;
            return new HandOver(active, member, dark, takes);
        }
    }

    /** The new image is brought to the dependents while everything serves. */
    record PreLoadDependents(int count, String to, Duration takes) implements RollingMove {
        @Override
        public String sentence() {
            return "%s brought to %s dependents ahead, while everything serves"
                    .formatted(to, count);
        }
    }

    /** The controller restarts; its dependents serve nobody meanwhile. */
    record RestartController(String name, String from, String to, Duration dark)
            implements RollingMove {
        @Override
        public String sentence() {
            return "%s restarts from %s into %s".formatted(name, from, to);
        }
    }

    /**
     * The dependents take the new image.
     *
     * @param fetched whether they have to fetch it first
     */
    record DependentsFollow(int count, String to, boolean fetched, Duration dark)
            implements RollingMove {
        @Override
        public String sentence() {
            return "%s dependents %s into %s"
                    .formatted(count, fetched ? "fetch their image and restart" : "restart", to);
        }
    }

    /** Everything restarts at once. */
    record RestartAll(String from, String to, Duration dark) implements RollingMove {
        @Override
        public String sentence() {
            return "the whole unit restarts together from %s into %s".formatted(from, to);
        }
    }
}
