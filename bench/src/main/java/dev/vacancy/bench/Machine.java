package dev.vacancy.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** What the figures were taken on. */
final class Machine {
    private static final Path PROCESSORS = Path.of("/proc/cpuinfo");

    private Machine() {}

    static String words() throws IOException {
        List<String> lines = Files.isReadable(PROCESSORS) ? Files.readAllLines(PROCESSORS) : List.of();
        String processor = lines.stream()
                .filter(line -> line.startsWith("model name"))
                .map(line -> line.replaceFirst("^[^:]*: *", ""))
                .findFirst()
                .orElse(System.getProperty("os.arch"));
        return Runtime.getRuntime().availableProcessors() + " cores of " + processor + ", "
                + System.getProperty("os.name") + ", Java " + System.getProperty("java.version");
    }
}
