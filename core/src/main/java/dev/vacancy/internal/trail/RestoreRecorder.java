package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.rules.Rules.Recording;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Writes down that records are back, one entry each that refers to the one by which it went.
 *
 * @since 0.1
 */
public final class RestoreRecorder {
    /** What the entries by which records went are called in statements. */
    private static final String ALIAS = "e";

    private final TrailTables tables;
    private final Dialect dialect;

    /**
     * Makes a recorder.
     *
     * @param recording where it is written down
     * @param dialect the dialect of the database
     */
    public RestoreRecorder(Recording recording, Dialect dialect) {
        this.tables = new TrailTables(recording.trail(), dialect);
        this.dialect = dialect;
    }

    /** {@return what {@link #in} calls the column of images} */
    public static String content() {
        return ALIAS + ".content";
    }

    /** {@return what {@link #in} calls the column of places} */
    public static String place() {
        return ALIAS + ".place";
    }

    /**
     * Says which entries a stretch has.
     *
     * @param stretch the stretch
     * @param joined what they are joined with, of which as many are left as it finds something for
     * @return what stands behind FROM
     */
    public Fragment in(Stretch stretch, Fragment joined) {
        return joined.between(
                tables.entries() + " " + ALIAS,
                step(stretch.first()) + place() + " between " + stretch.first().place() + " and " + stretch.last());
    }

    private static String step(Reference entry) {
        return " where " + ALIAS + ".run_no = " + entry.run() + " and " + ALIAS + ".step = " + entry.step() + " and ";
    }

    /**
     * Writes down that records are back.
     *
     * @param heading what is written beside each
     * @param before how many entries the step has already
     * @param restored the entries that they come back by, all of one step
     * @param connection a connection in a transaction that writes
     * @throws SQLException when the database refuses
     */
    public void record(Recorder.Heading heading, long before, List<StoredEntry> restored, Connection connection)
            throws SQLException {
        List<StoredEntry> originals = restored.stream()
                .sorted(Comparator.comparing(StoredEntry::reference))
                .toList();
        if (dialect.makesImages()) {
            Reference first = originals.get(0).reference();
            Fragment from = Fragment.of(tables.entries() + " " + ALIAS + step(first) + places(originals));
            insert(heading, before, first, from, connection);
            return;
        }
        try (EntryWriter writer = new EntryWriter(tables, connection)) {
            long place = before;
            for (StoredEntry original : originals) {
                writer.add(heading, ++place, original.key(), null, original.reference());
            }
            writer.flush();
        }
    }

    /**
     * Writes down that the records of a stretch are back, as far as the database finds each as it should be.
     *
     * @param heading what is written beside each
     * @param before how many entries the step has already
     * @param stretch the entries that they come back by
     * @param found joins each with what shows that its record is as it should be
     * @param connection a connection in a transaction that writes
     * @return how many there are
     * @throws SQLException when the database refuses
     */
    public long record(Recorder.Heading heading, long before, Stretch stretch, Fragment found, Connection connection)
            throws SQLException {
        return insert(heading, before, stretch.first(), in(stretch, found), connection);
    }

    private int insert(Recorder.Heading heading, long before, Reference original, Fragment from, Connection connection)
            throws SQLException {
        try (PreparedStatement insert =
                insertion(heading, before, original, from).prepare(connection)) {
            return insert.executeUpdate();
        }
    }

    /** Keys and places are in the database already. */
    private Fragment insertion(Recorder.Heading heading, long before, Reference original, Fragment from) {
        String bound = "cast(? as " + dialect.textType() + ")";
        String key = "case when q.k is null then '" + FramedDigest.framed(null) + "' else "
                + FramedDigest.framed("q.k", dialect) + " end";
        String facts = dialect.concatenated(List.of(bound, "q.n", bound, "q.p", bound, key, bound));
        String digest = dialect.digestOf(dialect.joinedBytes(List.of("q.s", dialect.bytesOf(facts))));
        long run = RunNumber.of(heading.run());
        String word = heading.action().word();
        String fields = FramedDigest.framed(null) + FramedDigest.framed(null);
        Fragment numbered = from.between(
                "select " + ALIAS + ".record_key as k, " + place() + " as p, " + before
                        + " + row_number() over (order by " + place() + ") as n from ",
                "");
        Fragment salted = new EntrySalts()
                .salt("i.n", dialect)
                .between("select i.k, i.p, i.n, ", " as s from (")
                .then(numbered)
                .then(Fragment.of(") as i" + dialect.evaluatedOnce()));
        return Fragment.of(
                        "insert into " + tables.entries() + " (run_no, step, place, action, table_name, record_key,"
                                + " about_run, about_step, about_place, seal, digest)"
                                + " select ?, ?, q.n, ?, ?, q.k, ?, ?, q.p, q.s, " + digest + " from (",
                        Binding.of(run),
                        Binding.of(heading.step()),
                        Binding.of(word),
                        Binding.of(heading.table()),
                        Binding.of(original.run()),
                        Binding.of(original.step()),
                        Binding.of(run + " " + heading.step() + " "),
                        Binding.of(" " + word + " " + original.run() + " " + original.step() + " "),
                        Binding.of(" " + FramedDigest.framed(heading.table())),
                        Binding.of(fields))
                .then(salted)
                .then(Fragment.of(") as q"));
    }

    private static String places(List<StoredEntry> entries) {
        long first = entries.get(0).place();
        long last = entries.get(entries.size() - 1).place();
        return last - first == entries.size() - 1
                ? place() + " between " + first + " and " + last
                : entries.stream()
                        .map(entry -> String.valueOf(entry.place()))
                        .collect(Collectors.joining(", ", place() + " in (", ")"));
    }
}
