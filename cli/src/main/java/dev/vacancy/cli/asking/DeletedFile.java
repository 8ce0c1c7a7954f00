package dev.vacancy.cli.asking;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.ToolException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Locale;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import tools.jackson.databind.json.JsonMapper;

/**
 * The selected records that a deletion takes, one after the other, in a file: as CSV (RFC 4180), or as JSON Lines, an object of
 * RFC 8259 on each line. The ending of the name says which.
 */
public final class DeletedFile implements AutoCloseable {
    private static final JsonMapper LINES = JsonMapper.builder().build();

    private final Path file;
    private final Writer writer;
    private final Lines lines;

    private DeletedFile(Path file, Writer writer, Lines lines) {
        this.file = file;
        this.writer = writer;
        this.lines = lines;
    }

    /** Writes one record. */
    @FunctionalInterface
    private interface Lines {
        void write(RecordContent record) throws IOException;
    }

    /**
     * Opens a file before anything is deleted.
     *
     * @param goingOn whether it may be there already, from an earlier stretch of the same work
     */
    public static DeletedFile open(Path file, Table table, boolean goingOn) {
        String name = file.toString().toLowerCase(Locale.ROOT);
        boolean csv = name.endsWith(".csv");
        if (!csv && !name.endsWith(".jsonl")) {
            throw ToolException.wrongUsage(
                    "The file '" + file + "' for deleted records ends neither in .jsonl nor in .csv.",
                    "Name it .jsonl for JSON Lines, or .csv for CSV.");
        }
        try {
            boolean begun = goingOn && Files.exists(file) && Files.size(file) > 0;
            Writer writer = Files.newBufferedWriter(
                    file,
                    StandardCharsets.UTF_8,
                    StandardOpenOption.WRITE,
                    begun ? StandardOpenOption.APPEND : StandardOpenOption.CREATE_NEW);
            return new DeletedFile(file, writer, csv ? csv(writer, table, begun) : jsonLines(writer));
        } catch (FileAlreadyExistsException there) {
            throw ToolException.wrongUsage(
                    "The file '" + file + "' is there already, and nothing was deleted.",
                    "Name another one, or move it away.");
        } catch (IOException failure) {
            throw unwritable(file, failure);
        }
    }

    private static Lines jsonLines(Writer writer) {
        return record ->
                writer.append(LINES.writeValueAsString(record.plainValues())).append('\n');
    }

    private static Lines csv(Writer writer, Table table, boolean begun) throws IOException {
        String[] header = table.columns().stream().map(Column::name).toArray(String[]::new);
        CSVPrinter csv = new CSVPrinter(
                writer,
                begun
                        ? CSVFormat.RFC4180
                        : CSVFormat.RFC4180.builder().setHeader(header).get());
        return record -> csv.printRecord(record.plainValues().values());
    }

    /** Writes a record; if that fails the deletion does too. */
    public void write(RecordContent record) {
        try {
            lines.write(record);
        } catch (IOException failure) {
            throw unwritable(file, failure);
        }
    }

    /** Sees to it that what was written is in the file. */
    public void flush() {
        try {
            writer.flush();
        } catch (IOException failure) {
            throw unwritable(file, failure);
        }
    }

    /** Takes the file away again, as nothing was deleted. */
    public void discard() {
        close();
        try {
            Files.deleteIfExists(file);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    @Override
    public void close() {
        try {
            writer.close();
        } catch (IOException failure) {
            throw unwritable(file, failure);
        }
    }

    private static ToolException unwritable(Path file, IOException failure) {
        return new ToolException(
                ExitStatus.FAILED,
                "The file '" + file + "' can't be written: " + failure.getMessage(),
                "Name one in a folder that is there and may be written to.",
                failure);
    }
}
