package dev.vacancy.clusters;

import static org.assertj.core.api.Assumptions.assumeThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** Programs that are installed on this machine, and processes of them. */
final class Program {
    private static final List<Path> FOLDERS = Stream.concat(
                    Stream.of(System.getenv().getOrDefault("PATH", "").split(":", -1))
                            .map(Path::of),
                    Stream.of(Path.of("/usr/sbin"), Path.of("/usr/bin")))
            .toList();

    private static final Path NOWHERE = Path.of("/dev/null");

    private Program() {}

    /** Returns where a program is, and skips the test where it is missing. */
    static String require(String name) {
        Optional<Path> found = FOLDERS.stream()
                .map(folder -> folder.resolve(name))
                .filter(Files::isExecutable)
                .findFirst();
        assumeThat(found).as(name + ", which isn't installed here").isPresent();
        return found.orElseThrow().toString();
    }

    /** Returns the first of some files that is there, and skips the test where none is. */
    static Path requireFile(String... places) {
        Optional<Path> found =
                Stream.of(places).map(Path::of).filter(Files::exists).findFirst();
        assumeThat(found).as(places[0] + ", which isn't installed here").isPresent();
        return found.orElseThrow();
    }

    /** Whether servers have to be told to run as somebody else. */
    static boolean isRoot() {
        return "root".equals(System.getProperty("user.name"));
    }

    /** Puts the command in the name of somebody else where this is the user that a server refuses. */
    static List<String> as(String user, List<String> command) {
        if (!isRoot()) {
            return command;
        }
        List<String> changed = new ArrayList<>(List.of("runuser", "-u", user, "--"));
        changed.addAll(command);
        return changed;
    }

    /** Gives a folder to whoever a server runs as. */
    static void own(Path folder, String user) {
        if (isRoot()) {
            run(List.of("chown", "-R", user, folder.toString()), NOWHERE);
        }
    }

    /** Runs a program to its end. */
    static void run(List<String> command, Path log) {
        try {
            Process process = start(command, log);
            if (!process.waitFor(2, TimeUnit.MINUTES) || process.exitValue() != 0) {
                throw new IllegalStateException(command + ": " + Files.readString(log));
            }
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(end);
        }
    }

    /** Starts a program that ends with this virtual machine at the latest. */
    static Process start(List<String> command, Path log) {
        try {
            Process process = new ProcessBuilder(command)
                    .redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.appendTo(log.toFile()))
                    .start();
            Runtime.getRuntime().addShutdownHook(new Thread(() -> kill(process)));
            return process;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** Ends a process and what it has started, as a loss of power does. */
    static void kill(Process process) {
        process.descendants().forEach(ProcessHandle::destroyForcibly);
        process.destroyForcibly();
        try {
            process.waitFor(10, TimeUnit.SECONDS);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    /** Sends a process and what it has started a signal: STOP makes it silent, CONT goes on. */
    static void signal(Process process, String signal) {
        Stream.concat(Stream.of(process.toHandle()), process.descendants())
                .forEach(each -> run(List.of("kill", "-" + signal, String.valueOf(each.pid())), NOWHERE));
    }

    /** Finds ports of the loopback that nobody uses. */
    static int[] freePorts(int number) {
        return freePorts(new int[number], 0);
    }

    /** Each stays taken until all are found, so that none is found twice. */
    private static int[] freePorts(int[] ports, int found) {
        if (found == ports.length) {
            return ports;
        }
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            ports[found] = socket.getLocalPort();
            return freePorts(ports, found + 1);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** Makes a folder that others may enter, and that goes with this virtual machine. */
    static Path folder(String name) {
        try {
            Path folder = Files.createTempDirectory("vacancy-" + name);
            Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
            Runtime.getRuntime().addShutdownHook(new Thread(() -> delete(folder)));
            return folder;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static void delete(Path folder) {
        try (Stream<Path> files = Files.walk(folder)) {
            List<Path> deepestFirst = files.sorted(Comparator.reverseOrder()).toList();
            for (Path file : deepestFirst) {
                Files.deleteIfExists(file);
            }
        } catch (IOException gone) {
            // A server that is just ending may still write; what is left are temporary files.
        }
    }
}
