package calmstep.service.json;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.step.UnitPlan.HopPlan;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** What was kept once must be readable for good. */
class JsonTest {
    private final Json json = new Json(JsonMapper.builder().build());

    @Test
    void readsAReadingThatWasKeptBeforeReadingsHadParts() {
        Reading reading =
                json.read(
                        """
                        {"takenAt":"2026-11-01T02:00:00Z","identity":{"hostName":"rt","model":"R6-4","revision":"C","serial":"S1"},"components":{"system":"2.4.0"},
                         "boot":{"running":"a.img","next":"a.img","fallback":"","saved":true},"bootMark":"start 17",
                         "volumes":[{"name":"flash","sizeBytes":10,"freeBytes":5,"files":[{"name":"a.img","sizeBytes":5}]}],"unsavedChanges":false,"configurationSha256":"","facts":[]}
                        """,
                        Reading.class);
        assertThat(reading.parts()).isEmpty();
        assertThat(reading.waiting()).isEmpty();
        assertThat(reading.imageVolumes())
                .singleElement()
                .satisfies(volume -> assertThat(volume.part()).isEmpty());
        assertThat(json.read(json.write(reading), Reading.class)).isEqualTo(reading);
    }

    @Test
    void readsAHopThatWasPlannedBeforeMembersRestartedOneByOne() {
        HopPlan hop =
                json.read(
                        """
                        {"ordinal":1,"hop":{"component":"system","from":"1","to":"2","images":[],"lookAlikes":[],"brings":[],"restarts":1,"dark":240.0,"configuration":"kept","mayRest":true,"why":[],"toKnow":[]},"steps":["check"]}
                        """,
                        HopPlan.class);
        assertThat(hop.rolls()).isFalse();
    }
}
