package dev.vacancy.approvals;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Pattern;

/**
 * Stands between a driver and its server, and once it is told to, lets a commit through and cuts the connection before its answer. Only a
 * transaction that has changed something is cut.
 */
final class CuttingProxy implements AutoCloseable {
    private static final Pattern CHANGE = Pattern.compile("(?i)\\b(delete|insert|update|truncate|merge)\\b");

    private final ServerSocket listening;
    private final int server;
    private final AtomicBoolean armed = new AtomicBoolean();
    private final AtomicBoolean shut = new AtomicBoolean();
    private final AtomicInteger cuts = new AtomicInteger();

    CuttingProxy(int server) {
        this.server = server;
        try {
            listening = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
        daemon(this::accept);
    }

    int port() {
        return listening.getLocalPort();
    }

    /** Cuts the next commit of something. */
    void arm() {
        armed.set(true);
    }

    /** Does the same, and lets nobody in afterwards. */
    void armForGood() {
        shut.set(true);
        arm();
    }

    int cuts() {
        return cuts.get();
    }

    private void accept() {
        while (!listening.isClosed()) {
            try {
                Socket client = listening.accept();
                if (shut.get() && cuts.get() > 0) {
                    client.close();
                    continue;
                }
                Socket upstream = new Socket(InetAddress.getLoopbackAddress(), server);
                client.setTcpNoDelay(true);
                upstream.setTcpNoDelay(true);
                AtomicBoolean cutting = new AtomicBoolean();
                daemon(() -> sending(client, upstream, cutting));
                daemon(() -> answering(upstream, client, cutting));
            } catch (IOException closed) {
                return;
            }
        }
    }

    private void sending(Socket client, Socket upstream, AtomicBoolean cutting) {
        boolean changes = false;
        byte[] buffer = new byte[1 << 16];
        try {
            InputStream in = client.getInputStream();
            OutputStream out = upstream.getOutputStream();
            for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                String text = new String(buffer, 0, read, StandardCharsets.ISO_8859_1);
                changes |= CHANGE.matcher(text).find();
                if (changes && text.contains("COMMIT") && armed.compareAndSet(true, false)) {
                    cutting.set(true);
                }
                out.write(buffer, 0, read);
                out.flush();
            }
        } catch (IOException gone) {
            // The other side has gone, or was cut off.
        } finally {
            close(upstream);
        }
    }

    private void answering(Socket upstream, Socket client, AtomicBoolean cutting) {
        byte[] buffer = new byte[1 << 16];
        try {
            InputStream in = upstream.getInputStream();
            OutputStream out = client.getOutputStream();
            for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                if (cutting.get()) {
                    cuts.incrementAndGet();
                    return;
                }
                out.write(buffer, 0, read);
                out.flush();
            }
        } catch (IOException gone) {
            // The other side has gone.
        } finally {
            close(client);
            close(upstream);
        }
    }

    private static void close(Socket socket) {
        try {
            socket.close();
        } catch (IOException already) {
            throw new UncheckedIOException(already);
        }
    }

    private static void daemon(Runnable work) {
        Thread thread = new Thread(work, "proxy");
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void close() throws IOException {
        listening.close();
    }
}
