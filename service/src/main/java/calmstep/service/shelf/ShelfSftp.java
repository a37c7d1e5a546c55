package calmstep.service.shelf;

import calmstep.service.Settings;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.AccessDeniedException;
import java.nio.file.CopyOption;
import java.nio.file.FileSystem;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermission;
import java.security.Principal;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.apache.sshd.common.file.FileSystemFactory;
import org.apache.sshd.common.file.root.RootedFileSystemProvider;
import org.apache.sshd.common.session.Session;
import org.apache.sshd.common.session.SessionContext;
import org.apache.sshd.common.session.SessionListener;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.server.session.ServerSession;
import org.apache.sshd.sftp.server.FileHandle;
import org.apache.sshd.sftp.server.SftpFileSystemAccessor;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;
import org.apache.sshd.sftp.server.SftpSubsystemProxy;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.util.FileSystemUtils;

/**
 * Serves images to devices over SFTP, where a port for it is named. Whoever has an open transfer is
 * let in, whatever its name and password; what it sees is a folder of its own with exactly the
 * files that were opened for its address. Nothing can be written, removed or renamed.
 */
@Component
class ShelfSftp {
    private static final Logger LOG = LoggerFactory.getLogger(ShelfSftp.class);
    private static final Set<OpenOption> WRITING =
            Set.of(
                    StandardOpenOption.WRITE,
                    StandardOpenOption.APPEND,
                    StandardOpenOption.CREATE,
                    StandardOpenOption.CREATE_NEW,
                    StandardOpenOption.TRUNCATE_EXISTING,
                    StandardOpenOption.DELETE_ON_CLOSE);

    private final Shelf shelf;
    private final Copies copies;
    private final Path folders;
    private final Optional<SshServer> server;

    ShelfSftp(Shelf shelf, Copies copies, Settings settings) throws IOException {
        this.shelf = shelf;
        this.copies = copies;
        folders = settings.data().resolve("shelf-sftp");
        FileSystemUtils.deleteRecursively(folders);
        Files.createDirectories(folders);
        server =
                settings.shelf().sftpPort() == 0 ? Optional.empty() : Optional.of(server(settings));
    }

    private SshServer server(Settings settings) {
        SshServer sshd = SshServer.setUpDefaultServer();
        sshd.setHost(settings.shelf().address());
        sshd.setPort(settings.shelf().sftpPort());
        giveHostKey(settings, sshd);
        sshd.setPasswordAuthenticator(
                (_, _, session) -> !shelf.openFor(addressOf(session)).isEmpty());
        sshd.setSubsystemFactories(
                List.of(
                        new SftpSubsystemFactory.Builder()
                                .withFileSystemAccessor(new ReadOnly())
                                .build()));
        Folders files = new Folders();
        sshd.setFileSystemFactory(files);
        sshd.addSessionListener(files);
        return sshd;
    }

    private static void giveHostKey(Settings settings, SshServer sshd) {
        SimpleGeneratorHostKeyProvider keys =
                new SimpleGeneratorHostKeyProvider(settings.data().resolve("shelf-host-key"));
        keys.setAlgorithm("EC");
        keys.setKeySize(256);
        sshd.setKeyPairProvider(keys);
    }

    private static String addressOf(Session session) {
        return ((InetSocketAddress) session.getRemoteAddress()).getAddress().getHostAddress();
    }

    @EventListener(ApplicationReadyEvent.class)
    void start() throws IOException {
        if (server.isPresent()) {
            try {
                server.get().start();
            } catch (IOException taken) {
                throw new IOException(
                        "The shelf cannot listen on %s:%s over SFTP: %s. Another program has the port, or it needs more rights."
                                .formatted(
                                        server.get().getHost(),
                                        server.get().getPort(),
                                        taken.getMessage()),
                        taken);
            }
        }
    }

    @PreDestroy
    void stop() throws IOException {
        if (server.isPresent()) {
            server.get().stop(true);
        }
    }

    /**
     * A folder for each session, with links to what was opened for its address; gone with the
     * session.
     */
    private final class Folders implements FileSystemFactory, SessionListener {
        private static final String FOLDER = "calmstep.folder";

        @Override
        public Path getUserHomeDir(SessionContext session) {
            return Path.of("/");
        }

        @Override
        public FileSystem createFileSystem(SessionContext session) throws IOException {
            String device = addressOf((ServerSession) session);
            Path folder = Files.createDirectories(folders.resolve(UUID.randomUUID().toString()));
            ((ServerSession) session).getProperties().put(FOLDER, folder);
            for (String name : shelf.openFor(device)) {
                Optional<Path> file = shelf.servable(name, device);
                if (file.isPresent()) {
                    Files.createLink(folder.resolve(name), file.get());
                }
            }
            return new RootedFileSystemProvider().newFileSystem(folder, Map.of());
        }

        @Override
        public void sessionClosed(Session session) {
            if (session.getProperties().get(FOLDER) instanceof Path folder) {
                try {
                    FileSystemUtils.deleteRecursively(folder);
                } catch (IOException left) {
                    LOG.warn(
                            "What {} saw could not be removed; it is at the next start: {}",
                            addressOf(session),
                            left.getMessage());
                }
            }
        }
    }

    /** Lets files be read, and nothing else be done. */
    private final class ReadOnly implements SftpFileSystemAccessor {
        private static AccessDeniedException refused(Path path) {
            return new AccessDeniedException(
                    String.valueOf(path), null, "the shelf is for reading only");
        }

        @Override
        public SeekableByteChannel openFile(
                SftpSubsystemProxy subsystem,
                FileHandle fileHandle,
                Path file,
                String handle,
                Set<? extends OpenOption> options,
                FileAttribute<?>... attributes)
                throws IOException {
            if (options.stream().anyMatch(WRITING::contains)) {
                throw refused(file);
            }
            SeekableByteChannel channel = Files.newByteChannel(file, StandardOpenOption.READ);
            return counted(channel, file, subsystem);
        }

        private SeekableByteChannel counted(
                SeekableByteChannel channel, Path file, SftpSubsystemProxy subsystem)
                throws IOException {
            return new CopiedChannel(
                    channel,
                    copies.begin(
                            file.getFileName().toString(),
                            addressOf(subsystem.getServerSession()),
                            "sftp",
                            0,
                            channel.size()));
        }

        @Override
        public void createDirectory(SftpSubsystemProxy subsystem, Path path) throws IOException {
            throw refused(path);
        }

        @Override
        public void createLink(
                SftpSubsystemProxy subsystem, Path link, Path existing, boolean symLink)
                throws IOException {
            throw refused(link);
        }

        @Override
        public void renameFile(
                SftpSubsystemProxy subsystem,
                Path oldPath,
                Path newPath,
                Collection<CopyOption> options)
                throws IOException {
            throw refused(oldPath);
        }

        @Override
        public void copyFile(
                SftpSubsystemProxy subsystem,
                Path source,
                Path destination,
                Collection<CopyOption> options)
                throws IOException {
            throw refused(destination);
        }

        @Override
        public void removeFile(SftpSubsystemProxy subsystem, Path path, boolean isDirectory)
                throws IOException {
            throw refused(path);
        }

        @Override
        public void setFileAttribute(
                SftpSubsystemProxy subsystem,
                Path file,
                String view,
                String attribute,
                Object value,
                LinkOption... options)
                throws IOException {
            throw refused(file);
        }

        @Override
        public void setFilePermissions(
                SftpSubsystemProxy subsystem,
                Path file,
                Set<PosixFilePermission> permissions,
                LinkOption... options)
                throws IOException {
            throw refused(file);
        }

        @Override
        public void setFileOwner(
                SftpSubsystemProxy subsystem, Path file, Principal owner, LinkOption... options)
                throws IOException {
            throw refused(file);
        }

        @Override
        public void setGroupOwner(
                SftpSubsystemProxy subsystem, Path file, Principal group, LinkOption... options)
                throws IOException {
            throw refused(file);
        }

        @Override
        public void setFileAccessControl(
                SftpSubsystemProxy subsystem, Path file, List<AclEntry> acl, LinkOption... options)
                throws IOException {
            throw refused(file);
        }
    }
}
