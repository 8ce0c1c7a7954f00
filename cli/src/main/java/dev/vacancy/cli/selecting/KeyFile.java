package dev.vacancy.cli.selecting;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.cli.terminal.Utf8Text;
import dev.vacancy.internal.catalog.PackedRows;
import dev.vacancy.internal.catalog.RowPlaces;
import java.io.IOException;
import java.io.InputStream;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.csv.DuplicateHeaderMode;

/**
 * Keys from a CSV file (RFC 4180) in UTF-8, or from standard input. The header names the columns; those of the key are taken, in
 * whatever order they stand, and others may stand beside them.
 *
 * @param keys each key once, its values in the order of the columns of the table's key
 * @param repeated those that came more than once
 */
public record KeyFile(PackedRows keys, PackedRows repeated) {
    private static final CSVFormat FORMAT = CSVFormat.RFC4180
            .builder()
            .setHeader()
            .setDuplicateHeaderMode(DuplicateHeaderMode.DISALLOW)
            .setSkipHeaderRecord(true)
            .setIgnoreEmptyLines(true)
            .get();
    private static final int NAMED = 5;

    /** Reads a file; {@code -} stands for standard input. */
    public static KeyFile read(Path file, Table table) {
        try (InputStream bytes = isStandardInput(file) ? System.in : Files.newInputStream(file);
                Reader text = Utf8Text.reading(bytes)) {
            return read(FORMAT.parse(text), file, table);
        } catch (NoSuchFileException missing) {
            throw wrong(
                    "There is no file '" + file + "'.",
                    "Give the path of a CSV file, or - for standard input.",
                    missing);
        } catch (CharacterCodingException | Utf8Text.OtherEncoding wrong) {
            throw wrong(
                    named(file) + " isn't text in UTF-8" + Utf8Text.perhaps(wrong) + ".", "Save it as UTF-8.", wrong);
        } catch (IOException | UncheckedIOException | IllegalArgumentException unreadable) {
            if (unreadable.getCause() instanceof CharacterCodingException) {
                throw wrong(
                        named(file) + " isn't text in UTF-8" + Utf8Text.perhaps(unreadable) + ".",
                        "Save it as UTF-8.",
                        unreadable);
            }
            throw wrong(
                    named(file) + " can't be read as CSV: " + unreadable.getMessage(),
                    "Write it as in RFC 4180, with a header.",
                    unreadable);
        }
    }

    /** Says which keys came more than once, if any did. */
    public List<String> remarks() {
        if (repeated.isEmpty()) {
            return List.of();
        }
        String named = String.join(
                ", ", repeated.stream().limit(NAMED).map(KeyFile::text).toList());
        return List.of(String.format(
                Locale.ROOT,
                "%,d %s more than once, and count once: %s%s.",
                repeated.size(),
                repeated.size() == 1 ? "key came" : "keys came",
                named,
                repeated.size() > NAMED ? ", …" : ""));
    }

    private static KeyFile read(Iterable<CSVRecord> rows, Path file, Table table) {
        PackedRows keys = new PackedRows();
        RowPlaces places = new RowPlaces(keys);
        PackedRows repeated = new PackedRows();
        RowPlaces repeatedPlaces = new RowPlaces(repeated);
        for (CSVRecord row : rows) {
            List<String> key = key(row, file, table);
            if (!places.append(key)) {
                repeatedPlaces.append(key);
            }
        }
        if (keys.isEmpty()) {
            throw wrong(
                    "There are no keys in " + named(file) + "; that never means all records.",
                    "Give a header with the columns " + columns(table) + ", and a line for each record.",
                    null);
        }
        return new KeyFile(keys, repeated);
    }

    private static List<String> key(CSVRecord row, Path file, Table table) {
        List<String> key = new ArrayList<>();
        for (Column column : table.identity()) {
            List<String> names = row.getParser().getHeaderNames().stream()
                    .filter(header -> header.strip().equalsIgnoreCase(column.name()))
                    .toList();
            if (names.size() > 1) {
                throw wrong(
                        "The header of " + named(file) + " names " + column.name() + " " + names.size() + " times.",
                        "Leave one of these columns.",
                        null);
            }
            String name = names.stream()
                    .findFirst()
                    .orElseThrow(() -> wrong(
                            "The header of " + named(file) + " doesn't name " + column.name() + ", but has "
                                    + String.join(", ", row.getParser().getHeaderNames()) + ".",
                            "Name the columns of the key of " + table.name() + ": " + columns(table) + ".",
                            null));
            if (!row.isSet(name) || row.get(name).isEmpty()) {
                throw wrong(
                        "Line " + row.getParser().getCurrentLineNumber() + " of " + named(file) + " has no "
                                + column.name() + ".",
                        "Give each line a value for each of " + columns(table) + ".",
                        null);
            }
            key.add(row.get(name));
        }
        return key;
    }

    private static boolean isStandardInput(Path file) {
        return file.equals(Path.of("-"));
    }

    private static String named(Path file) {
        return isStandardInput(file) ? "standard input" : "'" + file + "'";
    }

    private static String text(List<Object> key) {
        return String.join(",", key.stream().map(String::valueOf).toList());
    }

    private static String columns(Table table) {
        return String.join(", ", table.identity().stream().map(Column::name).toList());
    }

    private static ToolException wrong(String problem, String remedy, Exception cause) {
        return new ToolException(ExitStatus.WRONG_USAGE, problem, remedy, cause);
    }
}
