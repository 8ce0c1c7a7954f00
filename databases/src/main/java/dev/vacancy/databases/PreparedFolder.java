package dev.vacancy.databases;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A folder that one virtual machine of a build prepares and all others find: a database server's program, which takes longer to unpack than to
 * start, and an empty data directory to copy. It stands at {@code -Dvacancy.test.servers=FOLDER}, by default among temporary files.
 */
final class PreparedFolder {
    private static final String PREPARED = "prepared";

    /** Fills a folder. */
    interface Preparation {
        void fill(Path folder) throws IOException;
    }

    private PreparedFolder() {}

    /**
     * Gives the folder of what comes by an artifact, filled by whoever came first; all others wait until it is.
     *
     * @param artifact how the names of its files begin; another version of them has a folder of its own
     */
    static Path of(String artifact, Preparation preparation) throws IOException {
        String usual = Path.of(
                        System.getProperty("java.io.tmpdir"), "vacancy-servers-" + System.getProperty("user.name"))
                .toString();
        Path all = Files.createDirectories(
                Path.of(System.getProperty("vacancy.test.servers", usual)).toAbsolutePath());
        String name = artifact + "-" + version(artifact);
        try (FileChannel channel = FileChannel.open(
                        all.resolve(name + ".lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
                FileLock lock = channel.lock()) {
            Path folder = all.resolve(name);
            Path mark = all.resolve(name + "." + PREPARED);
            if (lock.isValid() && !Files.exists(mark)) {
                delete(folder);
                preparation.fill(Files.createDirectories(folder));
                Files.createFile(mark);
            }
            return folder;
        }
    }

    private static String version(String artifact) {
        return Stream.of("java.class.path", "jdk.module.path")
                .flatMap(paths -> Arrays.stream(System.getProperty(paths, "").split(File.pathSeparator, -1)))
                .map(file -> new File(file).getName())
                .filter(file -> file.startsWith(artifact))
                .sorted()
                .collect(Collectors.collectingAndThen(
                        Collectors.joining(" "), files -> Integer.toHexString(files.hashCode())));
    }

    /** Copies what is in a folder to another, which there may be already. */
    static void copy(Path folder, Path copy) throws IOException {
        try (Stream<Path> files = Files.walk(folder)) {
            for (Path file : files.toList()) {
                Path target = copy.resolve(folder.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(target);
                } else {
                    Files.copy(file, target);
                }
            }
        }
    }

    /** Deletes a folder with all that is in it, if there is one. */
    static void delete(Path folder) {
        if (!Files.exists(folder)) {
            return;
        }
        try (Stream<Path> files = Files.walk(folder)) {
            List<Path> deepestFirst = files.sorted(Comparator.reverseOrder()).toList();
            for (Path file : deepestFirst) {
                Files.deleteIfExists(file);
            }
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }
}
