package calmstep.service.shelf;

import calmstep.service.Settings;
import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.channel.ChannelProgressiveFuture;
import io.netty.channel.ChannelProgressiveFutureListener;
import io.netty.channel.ChannelProgressivePromise;
import io.netty.channel.DefaultFileRegion;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http.DefaultHttpResponse;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpMethod;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponse;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpServerKeepAliveHandler;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.codec.http.LastHttpContent;
import io.netty.handler.codec.http.QueryStringDecoder;
import io.netty.handler.flow.FlowControlHandler;
import io.netty.handler.timeout.IdleStateEvent;
import io.netty.handler.timeout.IdleStateHandler;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Serves images to devices over HTTP: GET and HEAD of plain names, whole or from the middle on,
 * nothing else. The bytes go from the file to the socket without passing through here; over a link
 * that is shared, in even pieces that each take their turn.
 */
@Component
class ShelfHttp {
    private static final Logger LOG = LoggerFactory.getLogger(ShelfHttp.class);
    private static final int LOOPS = 2;
    private static final int WAITING_AT_MOST = 1024;
    private static final int LONGEST_REQUEST_BODY = 1024;

    /** A device of which nothing moves for so long is gone. */
    private static final int SILENT_SECONDS = 120;

    private final Shelf shelf;
    private final Copies copies;
    private final EventLoopGroup loops =
            new MultiThreadIoEventLoopGroup(LOOPS, NioIoHandler.newFactory());
    private final ExecutorService copying = Executors.newVirtualThreadPerTaskExecutor();
    private final Channel server;

    ShelfHttp(Shelf shelf, Copies copies, Settings settings) throws IOException {
        this.shelf = shelf;
        this.copies = copies;
        InetSocketAddress address =
                new InetSocketAddress(settings.shelf().address(), settings.shelf().httpPort());
        var bound =
                new ServerBootstrap()
                        .group(loops)
                        .channel(NioServerSocketChannel.class)
                        .option(ChannelOption.SO_BACKLOG, WAITING_AT_MOST)
                        .option(ChannelOption.AUTO_READ, false)
                        .childHandler(
                                new ChannelInitializer<SocketChannel>() {
                                    @Override
                                    protected void initChannel(SocketChannel line) {
                                        line.pipeline()
                                                .addLast(
                                                        new IdleStateHandler(
                                                                true,
                                                                0,
                                                                0,
                                                                SILENT_SECONDS,
                                                                TimeUnit.SECONDS),
                                                        new HttpServerCodec(),
                                                        new HttpServerKeepAliveHandler(),
                                                        new HttpObjectAggregator(
                                                                LONGEST_REQUEST_BODY),
                                                        new FlowControlHandler(),
                                                        new Asked());
                                    }
                                })
                        .bind(address)
                        .awaitUninterruptibly();
        if (!bound.isSuccess()) {
            Future<?> _ = loops.shutdownGracefully(0, 0, TimeUnit.SECONDS);
            throw new IOException(
                    "The shelf cannot listen on %s: %s. Another program has the port, or the address is not of this machine."
                            .formatted(address, bound.cause().getMessage()),
                    bound.cause());
        }
        server = bound.channel();
    }

    @EventListener(ApplicationReadyEvent.class)
    void start() {
        server.config().setAutoRead(true);
        server.read();
    }

    @PreDestroy
    void stop() {
        server.close().awaitUninterruptibly();
        loops.shutdownGracefully(0, 1, TimeUnit.SECONDS).awaitUninterruptibly();
        copying.shutdownNow();
    }

    /** The asking side of one line. While it is served, nothing more is read from it. */
    private final class Asked extends SimpleChannelInboundHandler<FullHttpRequest> {
        @Override
        protected void channelRead0(ChannelHandlerContext line, FullHttpRequest request) {
            Optional<String> path =
                    request.decoderResult().isSuccess() ? path(request.uri()) : Optional.empty();
            Wish wish =
                    new Wish(
                            request.method(),
                            path.orElse(""),
                            Optional.ofNullable(request.headers().get(HttpHeaderNames.RANGE)),
                            path.isPresent());
            line.channel().config().setAutoRead(false);
            copying.execute(() -> serveOrClose(line, wish));
        }

        private void serveOrClose(ChannelHandlerContext line, Wish wish) {
            try {
                serve(line.channel(), wish);
                line.channel().config().setAutoRead(true);
            } catch (IOException | RuntimeException broken) {
                LOG.debug("A copy to {} ended early", line.channel().remoteAddress(), broken);
                ChannelFuture _ = line.close();
            }
        }

        private static Optional<String> path(String uri) {
            try {
                return Optional.of(new QueryStringDecoder(uri).path());
            } catch (IllegalArgumentException unreadable) {
                return Optional.empty();
            }
        }

        @Override
        public void userEventTriggered(ChannelHandlerContext line, Object event) {
            if (event instanceof IdleStateEvent) {
                ChannelFuture _ = line.close();
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext line, Throwable cause) {
            LOG.debug("The line to {} broke", line.channel().remoteAddress(), cause);
            ChannelFuture _ = line.close();
        }
    }

    private record Wish(HttpMethod method, String path, Optional<String> range, boolean readable) {}

    private void serve(Channel line, Wish wish) throws IOException {
        String device = ((InetSocketAddress) line.remoteAddress()).getAddress().getHostAddress();
        boolean head = wish.method().equals(HttpMethod.HEAD);
        if (!wish.readable() || (!head && !wish.method().equals(HttpMethod.GET))) {
            answer(line, refusal(wish));
            return;
        }
        Optional<Path> file =
                shelf.servable(wish.path().isEmpty() ? "" : wish.path().substring(1), device);
        if (file.isEmpty()) {
            LOG.warn("{} asked the shelf for {} and was refused", device, wish.path());
            answer(line, empty(HttpResponseStatus.NOT_FOUND));
        } else {
            send(line, device, file.get(), wish.range(), head);
        }
    }

    private static HttpResponse refusal(Wish wish) {
        return empty(
                wish.readable()
                        ? HttpResponseStatus.METHOD_NOT_ALLOWED
                        : HttpResponseStatus.BAD_REQUEST);
    }

    private static HttpResponse empty(HttpResponseStatus status) {
        HttpResponse response = new DefaultHttpResponse(HttpVersion.HTTP_1_1, status);
        response.headers().set(HttpHeaderNames.CONTENT_LENGTH, 0);
        return response;
    }

    private static void answer(Channel line, HttpResponse response) throws IOException {
        ChannelFuture _ = line.write(response);
        flush(line, LastHttpContent.EMPTY_LAST_CONTENT);
    }

    /**
     * Returns when it is with the system; so a device that takes its time holds its own copy up,
     * and no memory.
     */
    private static void flush(Channel line, Object piece) throws IOException {
        flush(line, line.writeAndFlush(piece));
    }

    private static void flush(Channel line, ChannelFuture written) throws IOException {
        if (!written.awaitUninterruptibly().isSuccess()) {
            throw new IOException(
                    "The line to %s broke".formatted(line.remoteAddress()), written.cause());
        }
    }

    /**
     * A device that was cut off may ask for the rest alone: one stretch of bytes (RFC 9110, section
     * 14). What is asked otherwise gets the whole file.
     */
    private void send(Channel line, String device, Path file, Optional<String> range, boolean head)
            throws IOException {
        long size = Files.size(file);
        Optional<Stretch> asked = range.flatMap(text -> Stretch.of(text, size));
        if (asked.isPresent() && asked.get().length() <= 0) {
            HttpResponse none = empty(HttpResponseStatus.REQUESTED_RANGE_NOT_SATISFIABLE);
            none.headers().set(HttpHeaderNames.CONTENT_RANGE, "bytes */" + size);
            answer(line, none);
            return;
        }
        Stretch stretch = asked.orElse(new Stretch(0, size));
        HttpResponse response =
                new DefaultHttpResponse(
                        HttpVersion.HTTP_1_1,
                        asked.isPresent()
                                ? HttpResponseStatus.PARTIAL_CONTENT
                                : HttpResponseStatus.OK);
        response.headers()
                .set(HttpHeaderNames.CONTENT_TYPE, "application/octet-stream")
                .set(HttpHeaderNames.ACCEPT_RANGES, "bytes")
                .set(HttpHeaderNames.CONTENT_LENGTH, stretch.length());
        if (asked.isPresent()) {
            response.headers()
                    .set(
                            HttpHeaderNames.CONTENT_RANGE,
                            "bytes %s-%s/%s"
                                    .formatted(
                                            stretch.from(),
                                            stretch.from() + stretch.length() - 1,
                                            size));
        }
        if (head) {
            answer(line, response);
            return;
        }
        ChannelFuture _ = line.write(response);
        try (Copy copy =
                copies.begin(
                        file.getFileName().toString(),
                        device,
                        "http",
                        stretch.from(),
                        stretch.from() + stretch.length())) {
            if (copy.takesTurns()) {
                inPieces(line, file, stretch, copy);
            } else {
                inOne(line, file, stretch, copy);
            }
            flush(line, LastHttpContent.EMPTY_LAST_CONTENT);
        }
    }

    /** Each piece waits for its turn. */
    private static void inPieces(Channel line, Path file, Stretch stretch, Copy copy)
            throws IOException {
        for (long sent = 0; sent < stretch.length(); sent += Copy.EVEN_PIECE) {
            long piece = Math.min(Copy.EVEN_PIECE, stretch.length() - sent);
            copy.sends(piece);
            flush(line, new DefaultFileRegion(file.toFile(), stretch.from() + sent, piece));
        }
    }

    private static void inOne(Channel line, Path file, Stretch stretch, Copy copy)
            throws IOException {
        ChannelProgressivePromise sent = line.newProgressivePromise();
        sent.addListener(
                new ChannelProgressiveFutureListener() {
                    private long counted;

                    @Override
                    public void operationProgressed(
                            ChannelProgressiveFuture future, long progress, long total) {
                        copy.sends(progress - counted);
                        counted = progress;
                    }

                    @Override
                    public void operationComplete(ChannelProgressiveFuture future) {}
                });
        flush(
                line,
                line.writeAndFlush(
                        new DefaultFileRegion(file.toFile(), stretch.from(), stretch.length()),
                        sent));
    }

    /**
     * @param length zero or less where the file has no such bytes
     */
    private record Stretch(long from, long length) {
        private static final Pattern ONE = Pattern.compile("bytes=(\\d{0,18})-(\\d{0,18})");

        static Optional<Stretch> of(String asked, long size) {
            Matcher one = ONE.matcher(asked.strip());
            if (!one.matches() || (one.group(1).isEmpty() && one.group(2).isEmpty())) {
                return Optional.empty();
            }
            if (one.group(1).isEmpty()) {
                long last = Math.min(size, Long.parseLong(one.group(2)));
                return Optional.of(new Stretch(size - last, last));
            }
            long from = Long.parseLong(one.group(1));
            long to =
                    one.group(2).isEmpty()
                            ? size - 1
                            : Math.min(size - 1, Long.parseLong(one.group(2)));
            return Optional.of(new Stretch(from, to - from + 1));
        }
    }
}
