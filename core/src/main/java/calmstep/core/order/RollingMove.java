package calmstep.core.order;

import java.time.Duration;
import java.util.List;

/** One move of an order. */
public sealed interface RollingMove {
    /** Time in which the unit serves nobody. */
    Duration dark();

    /** Time that the move takes, the dark one counted. */
    Duration takes();

    /** In words, for people. */
    String sentence();

    /** Members restart into a release while the unit goes on serving. */
    record RestartMembers(List<String> members, String from, String to, Duration takes) implements RollingMove {
        public RestartMembers {
            members = List.copyOf(members);
        }

        @Override
        public Duration dark() {
            return Duration.ZERO;
        }

        @Override
        public String sentence() {
            return "%s %s from %s into %s while the unit goes on serving".formatted(String.join(" and ", members), members.size() == 1 ? "restarts" : "restart", from, to);
        }
    }

    /** Another member becomes the active one. */
    record HandOver(String fromMember, String toMember, Duration dark, Duration takes) implements RollingMove {
        @Override
        public String sentence() {
            return "%s hands over to %s".formatted(fromMember, toMember);
        }
    }

    /** Everything restarts at once. */
    record RestartAll(String from, String to, Duration dark) implements RollingMove {
        @Override
        public Duration takes() {
            return dark;
        }

        @Override
        public String sentence() {
            return "the whole unit restarts together from %s into %s".formatted(from, to);
        }
    }
}
