package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import tools.jackson.databind.JsonNode;

/**
 * Says by chance whatever is offered, until a run is over: a word that is refused while nothing has
 * moved was none to be offered.
 */
final class RandomPerson {
    private static final int WORDS_AT_MOST = 5;
    private static final List<String> NEEDS_NO_REASON = List.of("retry", "rescue");
    private static final Map<String, String> PLACES =
            Map.of("replace", "replacement", "replace-member", "member-replacement");

    /**
     * What is done where the devices are, and whoever looks there whether a gate's word is true.
     */
    interface OnSite {
        void readsTheGate(String run, String device, String question);

        /** Whether a word can be followed where the devices are. */
        default boolean canBeDone(String way) {
            return true;
        }

        /**
         * Puts another box in, where a unit or one of its members stood.
         *
         * @return what is said of it
         */
        Map<String, String> putsIn(String run, String device, JsonNode trouble);

        /** A part of a unit begins although its window has closed. */
        void begins(String device);
    }

    private final House house;
    private final Random chance;
    private final OnSite onSite;
    private final Map<String, Integer> words = new HashMap<>();

    /** What happened, so that a night in which nothing does is found out. */
    private final Map<String, Integer> happened = new TreeMap<>();

    RandomPerson(House house, Random chance, OnSite onSite) {
        this.house = house;
        this.chance = chance;
        this.onSite = onSite;
    }

    Map<String, Integer> happened() {
        return happened;
    }

    void saw(String what) {
        happened.merge(what, 1, Integer::sum);
    }

    /** Until each unit is settled, went back, or was set aside; then the run is ended. */
    void plays(String run) {
        Await.until(
                Duration.ofMinutes(4),
                "the night %s is over".formatted(run),
                () -> {
                    JsonNode now = house.get("/api/runs/" + run);
                    if (now.path("state").asString().equals("held")) {
                        House.must(
                                house.call("POST", "/api/runs/%s/resumption".formatted(run), null));
                    }
                    now.path("units").forEach(unit -> said(run, unit));
                    return house.get("/api/runs/" + run)
                            .path("units")
                            .valueStream()
                            .allMatch(unit -> isOver(unit.path("state").asString()));
                });
        if (house.get("/api/runs/" + run).path("finishedAt").isNull()) {
            House.must(house.call("POST", "/api/runs/%s/end".formatted(run), null));
        }
    }

    private static boolean isOver(String state) {
        return List.of("settled", "returned", "set-aside").contains(state);
    }

    private void said(String run, JsonNode unit) {
        String device = unit.path("device").asString();
        String path = "/api/runs/%s/units/%s/".formatted(run, device);
        if (isOver(unit.path("state").asString())) {
            return;
        }
        if (unit.path("trouble").isObject()) {
            decided(run, device, unit, path);
        } else if (unit.path("doubt").isObject() && unit.path("doubt").path("by").isNull()) {
            boolean refuses = chance.nextInt(3) == 0;
            House.must(
                    house.call(
                            "POST",
                            path + (refuses ? "refusal" : "acceptance"),
                            Map.of("why", "drawn")));
        } else if (unit.path("gate").isObject() && !unit.path("gate").path("open").asBoolean()) {
            saw("gate");
            onSite.readsTheGate(run, device, unit.path("gate").path("question").asString());
            House.must(house.call("POST", path + "go", Map.of()));
        } else if (unit.path("state").asString().equals("held")) {
            House.must(house.call("POST", path + "turn", Map.of("begins", "now", "why", "drawn")));
            onSite.begins(device);
        }
    }

    private void decided(String run, String device, JsonNode unit, String path) {
        List<String> ways =
                unit.path("trouble").path("ways").valueStream().map(JsonNode::asString).toList();
        boolean isEnough = words.merge(device, 1, Integer::sum) > WORDS_AT_MOST;
        List<String> drawn = ways.stream().filter(onSite::canBeDone).toList();
        String way = isEnough ? "set-aside" : drawn.get(chance.nextInt(drawn.size()));
        saw("word " + way);
        House.Answer answer = say(path, way, body(run, device, way, unit.path("trouble")));
        boolean stands = house.unit(run, device).path("trouble").equals(unit.path("trouble"));
        assertThat(answer.status() < 300 || !stands)
                .as("%s was offered %s, and said %s: %s", device, ways, way, answer.body())
                .isTrue();
    }

    private Map<String, String> body(String run, String device, String way, JsonNode trouble) {
        Map<String, String> body = new HashMap<>();
        if (PLACES.containsKey(way)) {
            body.putAll(onSite.putsIn(run, device, trouble));
        }
        if (!NEEDS_NO_REASON.contains(way)) {
            body.put("why", "drawn");
        }
        if (way.equals("answer")) {
            body.put("say", "yes");
        }
        return body;
    }

    /** A box that was just put in needs its time until it answers, or has joined the others. */
    private House.Answer say(String path, String way, Map<String, String> body) {
        if (!PLACES.containsKey(way)) {
            return house.call("POST", path + way, body);
        }
        return Await.until(
                Duration.ofSeconds(30),
                "the other box of %s is known".formatted(path),
                () -> house.call("POST", path + PLACES.get(way), body),
                answer -> answer.status() < 300);
    }
}
