package dev.vacancy.internal.trail;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.rule.Rules.Recording;
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
    private static final int LONGEST_KEY = 500;
    private static final int BATCH = 500;
    private static final long MOST_CHARACTERS = 1_000_000;
    private static final String COLUMNS =
            "run_id, step, place, action, table_name, record_key, content, altered, salt, content_digest, digest";

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
     * @param table its table
     * @param altered what its columns are set to, as an image; empty if it goes
     */
    public record Heading(UUID run, int step, String action, Table table, Optional<String> altered) {
        private String front() {
            return run + "\n" + step + "\n";
        }

        private String middle() {
            return "\n" + action + "\n" + table.name() + "\n";
        }

        private String back() {
            return "\n" + altered.orElse("") + "\n";
        }
    }

    /**
     * Says how the database writes down records by itself.
     *
     * @param heading what is written beside their content
     * @param from what stands behind FROM
     * @return a statement that changes as many rows as there are records; empty where images are made here
     */
    public Optional<Fragment> statement(Heading heading, Fragment from) {
        return dialect.makesImages() ? Optional.of(insertion(heading, from)) : Optional.empty();
    }

    /**
     * Says how the database deletes records and writes them down at once.
     *
     * @param heading what is written beside their content
     * @param deletion the deletion
     * @return a statement that changes as many rows as there are records; empty where it can't
     */
    public Optional<Fragment> statementDeleting(Heading heading, Fragment deletion) {
        String gone = "vacancy_gone";
        String alias = Statements.alias();
        return dialect.makesImages()
                ? dialect.deletedAs(deletion, alias, gone)
                        .map(beginning -> beginning.then(insertion(heading, Fragment.of(gone + " as " + alias))))
                : Optional.empty();
    }

    private Fragment insertion(Heading heading, Fragment from) {
        Table table = heading.table();
        List<Column> kept = kept(table);
        Fragment image = dialect.imageOf(
                kept.stream().map(Column::name).toList(),
                kept.stream().map(this::text).toList());
        String digest = dialect.digestOf(dialect.joined(List.of("p.s", "'\n'", "p.b")));
        String asText = "cast(q.n as " + dialect.textType() + ")";
        String facts = dialect.digestOf(dialect.joined(List.of(
                "cast(? as " + dialect.textType() + ")",
                asText,
                "cast(? as " + dialect.textType() + ")",
                "q.k",
                "cast(? as " + dialect.textType() + ")",
                "q.cd")));
        Fragment rows = Fragment.of("select row_number() over () as n, " + key(table) + " as k, ")
                .then(image)
                .then(Fragment.of(" as b, " + dialect.randomText() + " as s from "))
                .then(from);
        Fragment start = Fragment.of(
                "insert into " + tables.entries() + " (" + COLUMNS
                        + ") select ?, ?, q.n, ?, ?, q.k, q.b, ?, q.s, q.cd, " + facts
                        + " from (select p.n, p.k, p.b, p.s, " + digest + " as cd from (",
                Binding.of(heading.run().toString()),
                Binding.of(heading.step()),
                Binding.of(heading.action()),
                Binding.of(table.name()),
                text(heading.altered().orElse(null)),
                Binding.of(heading.front()),
                Binding.of(heading.middle()),
                Binding.of(heading.back()));
        return start.then(rows).then(Fragment.of(") as p) as q"));
    }

    private static Binding text(String value) {
        return (statement, index) -> statement.setString(index, value);
    }

    private List<Column> kept(Table table) {
        return table.columns().stream()
                .filter(column -> !column.generated() && !recording.isWithheld(table, column))
                .toList();
    }

    private String text(Column column) {
        return dialect.imageText(column.type(), dialect.name(Statements.alias(), column));
    }

    private String key(Table table) {
        if (table.identity().isEmpty()) {
            return "''";
        }
        return "substr(" + TrailKey.expression(table.identity(), Statements.alias(), dialect) + ", 1, " + LONGEST_KEY
                + ")";
    }

    /**
     * Writes down records whose images are made here.
     *
     * @param heading what is written beside their content
     * @param from what stands behind FROM
     * @param connection a connection in a transaction that writes
     * @return how many there were
     * @throws SQLException when the database refuses
     */
    public long record(Heading heading, Fragment from, Connection connection) throws SQLException {
        Table table = heading.table();
        List<Column> read = new ArrayList<>(kept(table));
        table.identity().stream().filter(column -> !read.contains(column)).forEach(read::add);
        Fragment query = Statements.select(read.stream().map(this::text).toList(), from);
        long place = 0;
        try (PreparedStatement select = dialect.locking(query).prepare(connection);
                ResultSet row = select.executeQuery();
                Writer writer = new Writer(connection)) {
            while (row.next()) {
                Map<String, Object> image = new LinkedHashMap<>();
                Map<Column, Object> values = new LinkedHashMap<>();
                for (int i = 0; i < read.size(); i++) {
                    Object value = dialect.readImage(row, i + 1, read.get(i).type());
                    values.put(read.get(i), value);
                    if (!recording.isWithheld(table, read.get(i))) {
                        image.put(read.get(i).name(), value);
                    }
                }
                String key = TrailKey.of(table.identity().stream()
                        .map(column -> dialect.keyOf(column.type(), values.get(column)))
                        .toList());
                writer.add(heading, ++place, key, image);
            }
            writer.flush();
        }
        return place;
    }

    /**
     * Writes down a single record, or a part of one, that the caller has read.
     *
     * @param connection a connection in a transaction that writes
     * @return a writer, to be closed
     * @throws SQLException when the database refuses
     */
    public Writer writer(Connection connection) throws SQLException {
        return new Writer(connection);
    }

    /** Writes entries one behind the other. */
    public final class Writer implements AutoCloseable {
        private final PreparedStatement insert;
        private int open;
        private long characters;

        private Writer(Connection connection) throws SQLException {
            this.insert = connection.prepareStatement(
                    "insert into " + tables.entries() + " (" + COLUMNS + ") values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
        }

        /**
         * Adds an entry.
         *
         * @param heading what is written beside the content
         * @param place the entry's number in its step, from 1
         * @param wholeKey the record's key
         * @param image the record
         * @throws SQLException when the database refuses
         */
        public void add(Heading heading, long place, String wholeKey, Map<String, Object> image) throws SQLException {
            String key = wholeKey.length() > LONGEST_KEY ? wholeKey.substring(0, LONGEST_KEY) : wholeKey;
            String content = Image.write(image);
            String salt = UUID.randomUUID().toString();
            String contentDigest = Chain.sha256(salt + "\n" + content);
            insert.setString(1, heading.run().toString());
            insert.setInt(2, heading.step());
            insert.setLong(3, place);
            insert.setString(4, heading.action());
            insert.setString(5, heading.table().name());
            insert.setString(6, key);
            insert.setString(7, content);
            insert.setString(8, heading.altered().orElse(null));
            insert.setString(9, salt);
            insert.setString(10, contentDigest);
            insert.setString(
                    11,
                    Chain.sha256(heading.front() + place + heading.middle() + key + heading.back() + contentDigest));
            insert.addBatch();
            characters += content.length();
            if (++open == BATCH || characters > MOST_CHARACTERS) {
                flush();
            }
        }

        /**
         * Sends what was added.
         *
         * @throws SQLException when the database refuses
         */
        public void flush() throws SQLException {
            if (open > 0) {
                insert.executeBatch();
                open = 0;
                characters = 0;
            }
        }

        @Override
        public void close() throws SQLException {
            insert.close();
        }
    }
}
