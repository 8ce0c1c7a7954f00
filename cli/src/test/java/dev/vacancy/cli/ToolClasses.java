package dev.vacancy.cli;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import java.util.stream.Stream;

/**
 * The tool's classes, as a process of its own finds them. Each start takes half as long with the classes that the first one loads kept in an
 * archive, as the tool's launcher does it too; where the modules aren't packaged yet there is none.
 */
final class ToolClasses {
    private static final int LONGEST_MINUTES = 2;

    static final List<String> START = start();

    private ToolClasses() {}

    private static List<String> start() {
        try {
            Path folder = Files.createTempDirectory("vacancy-tool");
            List<String> path = new ArrayList<>();
            for (String entry : System.getProperty("java.class.path").split(File.pathSeparator, -1)) {
                Path place = Path.of(entry);
                if (place.endsWith(Path.of("cli", "target", "classes"))) {
                    path.add(packaged(place, folder).toString());
                } else if (!place.endsWith("test-classes")) {
                    path.add(entry);
                }
            }
            List<String> plain = java(path);
            return path.stream().anyMatch(entry -> Files.isDirectory(Path.of(entry))) ? plain : archived(plain, folder);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static List<String> java(List<String> path) {
        return List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:TieredStopAtLevel=1",
                "-XX:+UseSerialGC",
                "-cp",
                String.join(File.pathSeparator, path),
                "dev.vacancy.cli.Main");
    }

    /** An archive of classes takes none from a folder. */
    private static Path packaged(Path classes, Path folder) throws IOException {
        Path jar = folder.resolve("vacancy-cli.jar");
        try (JarOutputStream out = new JarOutputStream(Files.newOutputStream(jar));
                Stream<Path> files = Files.walk(classes)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                out.putNextEntry(
                        new JarEntry(classes.relativize(file).toString().replace(File.separatorChar, '/')));
                Files.copy(file, out);
                out.closeEntry();
            }
        }
        return jar;
    }

    private static List<String> archived(List<String> plain, Path folder) throws IOException {
        Path archive = folder.resolve("classes.jsa");
        List<String> practice = new ArrayList<>(with(plain, "-XX:ArchiveClassesAtExit=" + archive));
        practice.addAll(List.of("demo", "--dir", folder.resolve("larkmoor").toString()));
        Process process = new ProcessBuilder(practice)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("practice.txt").toFile())
                .start();
        try {
            process.getOutputStream().close();
            boolean ended = process.waitFor(LONGEST_MINUTES, TimeUnit.MINUTES);
            return ended && Files.exists(archive)
                    ? with(plain, "-XX:SharedArchiveFile=" + archive, "-Xlog:disable")
                    : plain;
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
            return plain;
        }
    }

    /** The same command with options of the virtual machine, which stand behind its name. */
    private static List<String> with(List<String> command, String... options) {
        List<String> whole = new ArrayList<>(command);
        whole.addAll(1, List.of(options));
        return List.copyOf(whole);
    }
}
