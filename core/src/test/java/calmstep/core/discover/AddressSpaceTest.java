package calmstep.core.discover;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class AddressSpaceTest {
    @Test
    void leavesOutNetworkAndBroadcastAndWhatIsExcepted() {
        assertThat(
                        AddressSpace.parse(List.of("192.0.2.0/29"), List.of("192.0.2.3-192.0.2.4"))
                                .addresses())
                .containsExactly("192.0.2.1", "192.0.2.2", "192.0.2.5", "192.0.2.6");
        assertThat(AddressSpace.parse(List.of("192.0.2.8/31", "192.0.2.9"), List.of()).addresses())
                .containsExactly("192.0.2.8", "192.0.2.9");
        assertThat(AddressSpace.parse(List.of("2001:db8::fffe/127"), List.of()).addresses())
                .containsExactly("2001:db8:0:0:0:0:0:fffe", "2001:db8:0:0:0:0:0:ffff");
    }

    /** The oracle counts with plain integers. */
    @Test
    void touchesNothingOutsideAndNothingTwice() {
        SplittableRandom random = new SplittableRandom(4);
        for (int i = 0; i < 300; i++) {
            int length = random.nextInt(22, 33);
            int size = 1 << (32 - length);
            int network = random.nextInt(0, 1 << 20) / size * size;
            int from = random.nextInt(0, 1 << 20);
            int to = from + random.nextInt(0, 200);
            List<String> found =
                    List.copyOf(
                            AddressSpace.parse(
                                            List.of(dotted(network) + "/" + length),
                                            List.of(dotted(from) + "-" + dotted(to)))
                                    .addresses());
            List<String> expected =
                    java.util.stream.IntStream.range(
                                    network + (size > 2 ? 1 : 0),
                                    network + size - (size > 2 ? 1 : 0))
                            .filter(a -> a < from || a > to)
                            .mapToObj(AddressSpaceTest::dotted)
                            .toList();
            assertThat(found).isEqualTo(expected);
        }
    }

    private static String dotted(int low) {
        return "10.%s.%s.%s".formatted(low >> 16 & 255, low >> 8 & 255, low & 255);
    }

    @Test
    void refusesWithEveryReasonAtOnce() {
        assertThatThrownBy(
                        () ->
                                AddressSpace.parse(
                                        List.of("192.0.2.1/24", "router.example"),
                                        List.of("192.0.2.9-192.0.2.4")))
                .hasMessageContaining("which is 192.0.2.0/24")
                .hasMessageContaining("saw \"router.example\"")
                .hasMessageContaining("from a lower to a higher");
        assertThatThrownBy(() -> AddressSpace.parse(List.of("10.0.0.0/8"), List.of()))
                .hasMessageContaining("Expected from 1 to 65,536")
                .hasMessageContaining("16,777,214");
        assertThatThrownBy(() -> AddressSpace.parse(List.of(), List.of()))
                .hasMessageContaining("saw 0");
        assertThatThrownBy(() -> Prefix.parse("192.0.2.300"))
                .hasMessageContaining("saw \"192.0.2.300\"");
    }
}
