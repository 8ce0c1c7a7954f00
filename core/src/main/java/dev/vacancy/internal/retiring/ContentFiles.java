package dev.vacancy.internal.retiring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.Image;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;

/**
 * The files of a drop: SQL that makes again what was dropped, and its content, a JSON object on each line (RFC 8259, UTF-8), with the texts
 * that the database takes back for the very same values.
 *
 * @param files where they are
 */
record ContentFiles(StoredRetirement.Files files) {
    private static final FileAttribute<?> OWNER_ONLY =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));
    private static final int CHUNK = 65_536;

    /** Writes the lines of a file that must not be there yet. */
    @FunctionalInterface
    interface Lines {
        /** Hands each line to the one who writes it. */
        long each(Consumer<String> line) throws SQLException;
    }

    /** Writes both, so that they are on the disk before anything is dropped. */
    static StoredRetirement.Files write(List<Path> paths, List<String> statements, String heading, Lines content)
            throws SQLException {
        List<Path> made = new ArrayList<>();
        boolean whole = false;
        try {
            Files.createDirectories(paths.get(0).getParent());
            write(paths.get(0), made, line -> {
                line.accept("-- " + heading);
                line.accept("-- Its content is in " + paths.get(1).getFileName() + "; what constrains it comes last.");
                statements.forEach(sql -> line.accept(sql + ";"));
                return 0;
            });
            long records = write(paths.get(1), made, content);
            whole = true;
            return new StoredRetirement.Files(
                    paths.get(0), paths.get(1), List.of(digest(paths.get(0)), digest(paths.get(1))), records);
        } catch (IOException failure) {
            throw unwritable(paths.get(0), failure);
        } finally {
            if (!whole) {
                remove(made);
            }
        }
    }

    private static long write(Path file, List<Path> made, Lines lines) throws IOException, SQLException {
        boolean posix = file.getFileSystem().supportedFileAttributeViews().contains("posix");
        Set<StandardOpenOption> options = Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
        try (FileChannel channel = FileChannel.open(
                        file, options, posix ? new FileAttribute<?>[] {OWNER_ONLY} : new FileAttribute<?>[0]);
                BufferedWriter out = new BufferedWriter(
                        new OutputStreamWriter(Channels.newOutputStream(channel), StandardCharsets.UTF_8))) {
            made.add(file);
            long count = lines.each(line -> {
                try {
                    out.write(line);
                    out.write('\n');
                } catch (IOException failure) {
                    throw new UncheckedIOException(failure);
                }
            });
            out.flush();
            channel.force(true);
            return count;
        } catch (UncheckedIOException failure) {
            throw failure.getCause();
        }
    }

    private static InvalidRequestException unwritable(Path file, IOException failure) {
        InvalidRequestException refusal = new InvalidRequestException(
                FailureCode.USAGE,
                failure instanceof FileAlreadyExistsException
                        ? "There is a file '" + file + "' already."
                        : "'" + file + "' can't be written: " + failure.getMessage() + ".",
                "Nothing was dropped; name a folder where new files can be written.");
        refusal.addSuppressed(failure);
        return refusal;
    }

    /** Takes away what was written for nothing. */
    void remove() {
        remove(files.paths());
    }

    private static void remove(List<Path> written) {
        for (Path file : written) {
            try {
                Files.deleteIfExists(file);
            } catch (IOException kept) {
                // It is of no use to anybody and does no harm; the next one gets another name.
            }
        }
    }

    /** Refuses files that aren't as they were written. */
    void verify() {
        for (int i = 0; i < files.paths().size(); i++) {
            Path file = files.paths().get(i);
            try {
                if (!digest(file).equals(files.digests().get(i))) {
                    throw new InvalidRequestException(
                            FailureCode.RUN_STATE,
                            "The file '" + file + "' was changed since it was written.",
                            "Put it there again as it was; nothing was changed.");
                }
            } catch (IOException missing) {
                throw unreadable(file, missing);
            }
        }
    }

    private static InvalidRequestException unreadable(Path file, IOException failure) {
        InvalidRequestException refusal = new InvalidRequestException(
                FailureCode.RUN_STATE,
                "The file '" + file + "' can't be read.",
                "Put it there again as it was; nothing was changed.");
        refusal.addSuppressed(failure);
        return refusal;
    }

    private static String digest(Path file) throws IOException {
        MessageDigest digest = Chain.sha256();
        try (InputStream in = Files.newInputStream(file)) {
            byte[] bytes = new byte[CHUNK];
            for (int read = in.read(bytes); read > 0; read = in.read(bytes)) {
                digest.update(bytes, 0, read);
            }
        }
        return HexFormat.of().formatHex(digest.digest());
    }

    /** Takes some lines at a time. */
    @FunctionalInterface
    interface Portion {
        /** Puts them back. */
        void accept(List<Map<String, Object>> lines) throws SQLException;
    }

    void read(int most, Portion each) throws SQLException {
        try (BufferedReader in = Files.newBufferedReader(files.content())) {
            List<Map<String, Object>> lines = new ArrayList<>();
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                lines.add(Image.read(line));
                if (lines.size() == most) {
                    each.accept(lines);
                    lines = new ArrayList<>();
                }
            }
            if (!lines.isEmpty()) {
                each.accept(lines);
            }
        } catch (IOException failure) {
            throw unreadable(files.content(), failure);
        }
    }
}
