package dev.vacancy.internal.chunking;

import dev.vacancy.catalog.Key;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.trail.Image;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Keys on their way from the tables to the state of a run: in a file, as there may be more of them than fit into memory, and a
 * connection that is still reading them can't write on every database. Only this user may read it, and it is gone afterwards.
 */
final class SelectedKeysFile implements AutoCloseable {
    private final Path file;
    private final BufferedWriter writer;
    private long count;

    SelectedKeysFile() {
        try {
            file = Files.createTempFile("vacancy", ".keys");
            writer = Files.newBufferedWriter(file, StandardCharsets.UTF_8);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    void add(Key key) {
        try {
            // JSON has no line feed but those that it escapes.
            writer.write(Image.writeList(RecordKey.of(key).storable()));
            writer.newLine();
            count++;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** How many keys there are. */
    long count() {
        return count;
    }

    /** Opens what was written; each line is a key. */
    BufferedReader read() {
        try {
            writer.close();
            return Files.newBufferedReader(file, StandardCharsets.UTF_8);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    @Override
    public void close() {
        try {
            writer.close();
            Files.deleteIfExists(file);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }
}
