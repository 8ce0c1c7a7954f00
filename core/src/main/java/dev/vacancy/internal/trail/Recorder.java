package dev.vacancy.internal.trail;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.rules.Rules.Recording;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * Writes down records as they are, one entry each. Where the database can, it does so by itself, in one statement for any
 * number of records.
 *
 * @since 0.1
 */
public final class Recorder {
    private static final String COLUMNS =
            "run_no, step, place, action, table_name, record_key, content, altered, seal, digest";

    private final TrailTables tables;
    private final Recording recording;
    private final Dialect dialect;

    /**
     * Makes a recorder.
     *
     * @param recording what is written down, and where
     * @param dialect the dialect of the database
     */
    public Recorder(Recording recording, Dialect dialect) {
        this.tables = new TrailTables(recording.trail(), dialect);
        this.recording = recording;
        this.dialect = dialect;
    }

    /**
     * What is written beside the content of a record.
     *
     * @param run the run
     * @param step the run's step, from 1
     * @param action what happens to the record
     * @param table the name of its table
     * @param altered what its columns are set to, as an image; empty if it goes
     */
    public record Heading(UUID run, int step, Action action, String table, Optional<String> altered) {
        Reference reference(long place) {
            return new Reference(RunNumber.of(run), step, place);
        }
    }

    /**
     * Says which records of a table the database can't write down whole.
     *
     * @param table the table
     * @return a condition; empty where all can be written down
     */
    public Optional<Fragment> tooLarge(Table table) {
        List<Column> kept = kept(table);
        List<Column> large = kept.stream()
                .filter(column -> dialect.codec(column).mayBeTooLarge())
                .toList();
        if (large.isEmpty()) {
            return Optional.empty();
        }
        List<String> parts = large.stream()
                .map(column -> "(" + dialect.name(Statements.alias(), column) + " is not null and " + text(column)
                        + " is null) or ")
                .toList();
        Fragment image = dialect.imageOf(kept, Statements.alias());
        // What is digested is longer than the image by its frame.
        return Optional.of(image.between(String.join("", parts) + "concat(repeat('-', 1000), ", ") is null"));
    }

    /**
     * Says which records of a table have a value that couldn't be made again.
     *
     * @param table the table
     * @return a condition; empty where all can
     */
    public Optional<Fragment> lost(Table table) {
        List<String> columns = kept(table).stream()
                .filter(column -> !dialect.codec(column).comesBack())
                .map(column -> dialect.name(Statements.alias(), column) + " is not null")
                .toList();
        return columns.isEmpty() ? Optional.empty() : Optional.of(Fragment.of(String.join(" or ", columns)));
    }

    /**
     * Says how the database writes down records by itself.
     *
     * @param heading what is written beside their content
     * @param table their table
     * @param from what stands behind FROM
     * @return a statement that changes as many rows as there are records; empty where images are made here
     */
    public Optional<Fragment> statement(Heading heading, Table table, Fragment from) {
        return dialect.makesImages()
                ? Optional.of(insertion(heading, table, from).between(dialect.beforeRecording(), ""))
                : Optional.empty();
    }

    /**
     * Says how the database deletes records and writes them down at once.
     *
     * @param heading what is written beside their content
     * @param table their table
     * @param deletion the deletion
     * @return a statement that changes as many rows as there are records; empty where it can't
     */
    public Optional<Fragment> statementDeleting(Heading heading, Table table, Fragment deletion) {
        String gone = "vacancy_gone";
        String alias = Statements.alias();
        return dialect.makesImages()
                ? dialect.deletedAs(deletion, alias, gone)
                        .map(beginning -> beginning.then(insertion(heading, table, Fragment.of(gone + " as " + alias))))
                : Optional.empty();
    }

    /** The inner queries number the records, make images and salts; the outermost digests them as {@link StoredEntry} does. */
    private Fragment insertion(Heading heading, Table table, Fragment from) {
        List<Column> kept = kept(table);
        Fragment image = dialect.imageOf(kept, Statements.alias());
        String bound = "cast(? as " + dialect.textType() + ")";
        String key = table.identity().isEmpty() ? "'" + FramedDigest.framed(null) + "'" : framed("r.k");
        String facts = dialect.concatenated(List.of(bound, "r.n", bound, key, bound, framed("r.b")));
        String digest = dialect.digestOf(dialect.joinedBytes(List.of("r.s", dialect.bytesOf(facts))));
        Fragment records = Fragment.of("select row_number() over () as n, " + key(table) + " as k, ")
                .then(image)
                .then(Fragment.of(" as b from "))
                .then(from);
        Fragment salted = new EntrySalts()
                .salt("q.n", dialect)
                .between("select q.n, q.k, q.b, ", " as s from (")
                .then(records)
                .then(Fragment.of(") as q" + dialect.evaluatedOnce()));
        long run = RunNumber.of(heading.run());
        Fragment start = Fragment.of(
                "insert into " + tables.entries() + " (" + COLUMNS + ") select ?, ?, r.n, ?, ?, r.k, r.b, ?, r.s, "
                        + digest + " from (",
                Binding.of(run),
                Binding.of(heading.step()),
                Binding.of(heading.action().word()),
                Binding.of(heading.table()),
                text(heading.altered().orElse(null)),
                Binding.of(run + " " + heading.step() + " "),
                Binding.of(StoredEntry.rest(heading.action().word(), heading.table(), null)),
                Binding.of(FramedDigest.framed(heading.altered().orElse(null))));
        return start.then(salted).then(Fragment.of(") as r"));
    }

    private String framed(String text) {
        return FramedDigest.framed(text, dialect);
    }

    private static Binding text(String value) {
        return (statement, index) -> statement.setString(index, value);
    }

    /**
     * Lists the columns whose values are written down.
     *
     * @param table a table
     * @return all that a record can be made again from, but for those that the trail leaves out
     */
    public List<Column> kept(Table table) {
        return table.columns().stream()
                .filter(column -> !column.generated() && !recording.isWithheld(table, column))
                .toList();
    }

    private String text(Column column) {
        return dialect.codec(column).imageText(dialect.name(Statements.alias(), column));
    }

    private String key(Table table) {
        return table.identity().isEmpty()
                ? "cast(null as " + dialect.textType() + ")"
                : TrailKey.expression(table.identity(), Statements.alias(), dialect);
    }

    /**
     * Writes down records whose images are made here.
     *
     * @param heading what is written beside their content
     * @param table their table
     * @param from what stands behind FROM
     * @param connection a connection in a transaction that writes
     * @return how many there were
     * @throws SQLException when the database refuses
     */
    public long record(Heading heading, Table table, Fragment from, Connection connection) throws SQLException {
        List<Column> read = new ArrayList<>(kept(table));
        table.identity().stream().filter(column -> !read.contains(column)).forEach(read::add);
        Fragment query = Statements.select(read.stream().map(this::text).toList(), from);
        long place = 0;
        try (PreparedStatement select = dialect.locking(query).prepare(connection);
                ResultSet row = select.executeQuery();
                EntryWriter writer = writer(connection)) {
            while (row.next()) {
                Map<String, Object> image = new LinkedHashMap<>();
                Map<Column, Object> values = new LinkedHashMap<>();
                for (int i = 0; i < read.size(); i++) {
                    Object value = dialect.codec(read.get(i)).readImage(row, i + 1);
                    values.put(read.get(i), value);
                    if (!recording.isWithheld(table, read.get(i))) {
                        image.put(read.get(i).name(), value);
                    }
                }
                String key = table.identity().isEmpty()
                        ? null
                        : TrailKey.of(table.identity().stream()
                                .map(column -> dialect.codec(column).keyOf(values.get(column)))
                                .toList());
                writer.add(heading, ++place, key, Image.write(image), null);
            }
            writer.flush();
        }
        return place;
    }

    /**
     * Writes down single entries.
     *
     * @param connection a connection in a transaction that writes
     * @return a writer, to be closed
     * @throws SQLException when the database refuses
     */
    public EntryWriter writer(Connection connection) throws SQLException {
        return new EntryWriter(tables, connection);
    }
}
