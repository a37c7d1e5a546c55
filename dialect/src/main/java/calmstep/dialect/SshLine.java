package calmstep.dialect;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.EnumSet;
import org.apache.sshd.client.channel.ChannelShell;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.apache.sshd.client.session.ClientSession;

/** A shell over SSH. */
final class SshLine implements Line {
    private final ClientSession session;
    private final ChannelShell channel;
    private final Inbox inbox = new Inbox();
    private final OutputStream out;

    SshLine(ClientSession session, Duration opensWithin) throws IOException {
        this.session = session;
        channel = session.createShellChannel();
        channel.setOut(inbox);
        channel.setErr(inbox);
        channel.open().verify(opensWithin);
        channel.addCloseFutureListener(_ -> inbox.end());
        out = channel.getInvertedIn();
        if (channel.waitFor(
                        EnumSet.of(ClientChannelEvent.OPENED, ClientChannelEvent.CLOSED),
                        opensWithin)
                .contains(ClientChannelEvent.CLOSED)) {
            inbox.end();
        }
    }

    @Override
    public void send(String text) {
        try {
            out.write(text.getBytes(StandardCharsets.UTF_8));
            out.flush();
        } catch (IOException gone) {
            throw new LineEnded();
        }
    }

    @Override
    public String receive(Duration atMost) {
        return inbox.take(atMost);
    }

    @Override
    public void close() {
        channel.close(true);
        session.close(true);
    }
}
