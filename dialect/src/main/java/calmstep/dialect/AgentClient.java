package calmstep.dialect;

import java.io.EOFException;
import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.SocketChannel;
import java.nio.file.Path;
import org.apache.sshd.agent.common.AbstractAgentProxy;
import org.apache.sshd.common.util.buffer.Buffer;
import org.apache.sshd.common.util.buffer.ByteArrayBuffer;

/** An SSH agent behind its socket: it signs with keys that it never gives away. */
final class AgentClient extends AbstractAgentProxy {
    private static final int LONGEST_ANSWER = 256 * 1024;

    private final SocketChannel channel;

    private AgentClient(SocketChannel channel) {
        super(null);
        this.channel = channel;
    }

    /**
     * @throws IOException when nobody listens there
     */
    static AgentClient at(Path socket) throws IOException {
        SocketChannel channel = SocketChannel.open(StandardProtocolFamily.UNIX);
        try {
            channel.connect(UnixDomainSocketAddress.of(socket));
            return new AgentClient(channel);
        } catch (IOException nobody) {
            channel.close();
            throw nobody;
        }
    }

    @Override
    protected synchronized Buffer request(Buffer request) throws IOException {
        ByteBuffer bytes = ByteBuffer.wrap(request.array(), request.rpos(), request.available());
        while (bytes.hasRemaining()) {
            channel.write(bytes);
        }
        int length = filled(ByteBuffer.allocate(Integer.BYTES)).getInt();
        if (length < 1 || length > LONGEST_ANSWER) {
            throw new IOException(
                    "the agent answers with %s bytes; expected up to %s"
                            .formatted(length, LONGEST_ANSWER));
        }
        return new ByteArrayBuffer(filled(ByteBuffer.allocate(length)).array());
    }

    private ByteBuffer filled(ByteBuffer room) throws IOException {
        while (room.hasRemaining()) {
            if (channel.read(room) < 0) {
                throw new EOFException("the agent closed its socket");
            }
        }
        return room.flip();
    }

    @Override
    public boolean isOpen() {
        return channel.isOpen();
    }

    @Override
    public void close() throws IOException {
        channel.close();
        super.close();
    }
}
