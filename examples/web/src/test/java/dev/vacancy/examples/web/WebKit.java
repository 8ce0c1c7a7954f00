package dev.vacancy.examples.web;

import static org.assertj.core.api.Assumptions.assumeThat;

import dev.vacancy.testing.Chromium;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.openqa.selenium.MutableCapabilities;
import org.openqa.selenium.remote.RemoteWebDriver;

/** A browser of another engine, where there is one; it needs a display, which a virtual one gives it. */
final class WebKit implements AutoCloseable {
    private static final Duration LONGEST = Duration.ofSeconds(20);

    private final Process display;
    private final Process server;
    private final RemoteWebDriver driver;

    private WebKit(Process display, Process server, RemoteWebDriver driver) {
        this.display = display;
        this.server = server;
        this.driver = driver;
    }

    /** Skips the tests that need it where it is missing. */
    static void require() {
        assumeThat(Chromium.program("WebKitWebDriver"))
                .as("WebKitWebDriver, which isn't installed here")
                .isPresent();
        assumeThat(browser()).as("MiniBrowser, which isn't installed here").isPresent();
        assumeThat(Chromium.program("Xvfb"))
                .as("Xvfb, which isn't installed here")
                .isPresent();
    }

    private static Optional<Path> browser() {
        try (Stream<Path> folders = Files.list(Path.of("/usr/lib"))) {
            return folders.flatMap(folder -> Stream.of("webkit2gtk-4.1", "webkitgtk-6.0", "webkit2gtk-4.0")
                            .map(version -> folder.resolve(version).resolve("MiniBrowser")))
                    .filter(Files::isExecutable)
                    .findFirst();
        } catch (IOException none) {
            return Optional.empty();
        }
    }

    static WebKit open() throws IOException, InterruptedException {
        int screen = freePort();
        String name = ":" + (screen % 10_000 + 100);
        Process display = new ProcessBuilder(
                        Chromium.program("Xvfb").orElseThrow().toString(), name, "-screen", "0", "1280x800x24")
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        await(() -> Files.exists(Path.of("/tmp/.X11-unix/X" + name.substring(1))));
        int port = freePort();
        ProcessBuilder builder = new ProcessBuilder(
                        Chromium.program("WebKitWebDriver").orElseThrow().toString(), "--port=" + port)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD);
        builder.environment()
                .putAll(Map.of("DISPLAY", name, "GDK_BACKEND", "x11", "WEBKIT_DISABLE_DMABUF_RENDERER", "1"));
        Process server = builder.start();
        await(() -> isListening(port));
        MutableCapabilities capabilities = new MutableCapabilities();
        capabilities.setCapability("browserName", "MiniBrowser");
        capabilities.setCapability(
                "webkitgtk:browserOptions",
                Map.of("binary", browser().orElseThrow().toString(), "args", List.of("--automation")));
        RemoteWebDriver driver =
                new RemoteWebDriver(URI.create("http://127.0.0.1:" + port).toURL(), capabilities, false);
        return new WebKit(display, server, driver);
    }

    /** A condition on the file system or the network. */
    @FunctionalInterface
    private interface Condition {
        boolean isMet();
    }

    private static void await(Condition condition) throws InterruptedException, IOException {
        long end = System.nanoTime() + LONGEST.toNanos();
        while (!condition.isMet()) {
            if (System.nanoTime() > end) {
                throw new IOException("what a browser needs doesn't start");
            }
            TimeUnit.MILLISECONDS.sleep(20);
        }
    }

    private static boolean isListening(int port) {
        try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
            return socket.isConnected();
        } catch (IOException notYet) {
            return false;
        }
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    RemoteWebDriver driver() {
        return driver;
    }

    @Override
    public void close() {
        driver.quit();
        server.destroy();
        display.destroy();
    }
}
