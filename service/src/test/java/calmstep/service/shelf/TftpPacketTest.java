package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.shelf.TftpPacket.Acknowledged;
import calmstep.service.shelf.TftpPacket.Data;
import calmstep.service.shelf.TftpPacket.Failed;
import calmstep.service.shelf.TftpPacket.Options;
import calmstep.service.shelf.TftpPacket.Read;
import calmstep.service.shelf.TftpPacket.Unusable;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class TftpPacketTest {
    @Provide
    Arbitrary<TftpPacket> packets() {
        Arbitrary<String> words =
                Arbitraries.strings().withCharRange('a', 'z').ofMinLength(1).ofMaxLength(20);
        Arbitrary<Integer> blocks = Arbitraries.integers().between(0, 0xffff);
        Arbitrary<Map<String, String>> options = Arbitraries.maps(words, words).ofMaxSize(4);
        return Arbitraries.oneOf(
                net.jqwik.api.Combinators.combine(words, options)
                        .as((name, o) -> new Read(name, "octet", o)),
                net.jqwik.api.Combinators.combine(
                                blocks, Arbitraries.bytes().array(byte[].class).ofMaxSize(1500))
                        .as(Data::new),
                blocks.map(Acknowledged::new),
                net.jqwik.api.Combinators.combine(blocks, words).as(Failed::new),
                options.filter(o -> !o.isEmpty()).map(Options::new));
    }

    @Property
    void decodingGivesBackWhatWasEncoded(@ForAll("packets") TftpPacket packet) {
        byte[] bytes = packet.encode();
        assertThat(TftpPacket.decode(bytes, bytes.length)).isEqualTo(packet);
    }

    @Property
    void noBytesBreakIt(@ForAll byte[] bytes) {
        assertThat(TftpPacket.decode(bytes, bytes.length)).isNotNull();
    }

    @Test
    void aWriteRequestIsUnusable() {
        assertThat(TftpPacket.decode(new byte[] {0, 2, 'x', 0, 'o', 0}, 6))
                .isEqualTo(new Unusable("a write request"));
    }
}
