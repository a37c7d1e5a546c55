package calmstep.service.shelf;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.NonWritableChannelException;
import java.nio.channels.SeekableByteChannel;

/** A file that is read for a copy. */
final class CopiedChannel implements SeekableByteChannel {
    private final SeekableByteChannel file;
    private final Copy copy;

    CopiedChannel(SeekableByteChannel file, Copy copy) {
        this.file = file;
        this.copy = copy;
    }

    @Override
    public int read(ByteBuffer into) throws IOException {
        int count = file.read(into);
        copy.sends(Math.max(0, count));
        return count;
    }

    @Override
    public int write(ByteBuffer from) {
        throw new NonWritableChannelException();
    }

    @Override
    public long position() throws IOException {
        return file.position();
    }

    @Override
    public SeekableByteChannel position(long position) throws IOException {
        file.position(position);
        return this;
    }

    @Override
    public long size() throws IOException {
        return file.size();
    }

    @Override
    public SeekableByteChannel truncate(long size) {
        throw new NonWritableChannelException();
    }

    @Override
    public boolean isOpen() {
        return file.isOpen();
    }

    @Override
    public void close() throws IOException {
        copy.close();
        file.close();
    }
}
