package calmstep.service.secrets;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.service.Settings;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SecretBoxTest {
    @TempDir private Path folder;

    private SecretBox box(String keyFile) throws IOException {
        return new SecretBox(
                new Settings(
                        folder,
                        folder.resolve(keyFile),
                        folder,
                        1,
                        0,
                        "",
                        new Settings.MailSettings("", 0, "", "", "", false),
                        new Settings.ShelfSettings("", "", 0, 0, 0, "")));
    }

    @Test
    void opensWhatItSealedAlsoAfterARestart() throws Exception {
        byte[] sealed = box("key").seal("login/steward", "geheim-öäü");
        assertThat(box("key").open("login/steward", sealed)).isEqualTo("geheim-öäü");
        assertThat(new String(sealed, StandardCharsets.ISO_8859_1)).doesNotContain("geheim");
        assertThat(Files.getPosixFilePermissions(folder.resolve("key")))
                .isEqualTo(PosixFilePermissions.fromString("rw-------"));
    }

    @Test
    void neverSealsTwiceAlike() throws Exception {
        assertThat(box("key").seal("a", "x")).isNotEqualTo(box("key").seal("a", "x"));
    }

    @Test
    void doesNotOpenForAnotherOwnerWithAnotherKeyOrAfterAChange() throws Exception {
        byte[] sealed = box("key").seal("login/steward", "x");
        assertThatThrownBy(() -> box("key").open("login/other", sealed))
                .hasMessageContaining("The secret of login/other does not open");
        assertThatThrownBy(() -> box("other-key").open("login/steward", sealed))
                .hasMessageContaining("expected the key that sealed it");
        sealed[sealed.length - 1] ^= 1;
        assertThatThrownBy(() -> box("key").open("login/steward", sealed))
                .isInstanceOf(IllegalStateException.class);
    }

    @Test
    void refusesAKeyFileThatIsNoKey() throws Exception {
        Files.writeString(folder.resolve("short"), "AAAA");
        assertThatThrownBy(() -> box("short")).hasMessageContaining("holds 3 bytes; expected 32");
    }
}
