package dev.vacancy.internal.trail;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/** Reads which entries of the trail others are about. */
final class EntryReferences {
    private static final int FETCHED = 1_000;

    private final EntryReader reader;

    EntryReferences(EntryReader reader) {
        this.reader = reader;
    }

    /**
     * Reads the entries that some restored ones are about.
     *
     * @param connection an open connection
     * @param restored entries of restores
     * @return what each is about, as far as that is still there
     * @throws SQLException when the database doesn't answer
     */
    Map<Reference, StoredEntry> originals(Connection connection, List<StoredEntry> restored) throws SQLException {
        Map<List<Long>, List<Reference>> steps = new LinkedHashMap<>();
        for (StoredEntry entry : restored) {
            if (entry.about() != null) {
                Reference about = entry.about();
                steps.computeIfAbsent(List.of(about.run(), (long) about.step()), missing -> new ArrayList<>())
                        .add(about);
            }
        }
        Map<Reference, StoredEntry> originals = new HashMap<>();
        for (Map.Entry<List<Long>, List<Reference>> step : steps.entrySet()) {
            String places = step.getValue().stream()
                    .map(reference -> String.valueOf(reference.place()))
                    .collect(Collectors.joining(", "));
            reader.read(
                            connection,
                            "run_no = ? and step = ? and place in (" + places + ")",
                            step.getKey().get(0),
                            step.getKey().get(1).intValue())
                    .forEach(entry -> originals.put(entry.reference(), entry));
        }
        return originals;
    }

    /**
     * Reads which entries a restore has undone.
     *
     * @param connection an open connection
     * @param restore the restore's id
     * @param each takes each of them, in their order
     * @throws SQLException when the database doesn't answer
     */
    void eachUndone(Connection connection, UUID restore, Consumer<Reference> each) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select about_run, about_step, about_place from "
                + reader.tables().entries() + " where run_no = ? and action = 'restored'"
                + " order by about_run, about_step, about_place")) {
            query.setLong(1, RunNumber.of(restore));
            query.setFetchSize(FETCHED);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    each.accept(new Reference(row.getLong(1), row.getInt(2), row.getLong(3)));
                }
            }
        }
    }

    /** What an erasure or a masking says of an entry or a run. */
    Optional<StoredEntry> pointer(Connection connection, long eraser, Reference about) throws SQLException {
        return reader
                .read(
                        connection,
                        "run_no = ? and step = ? and action in ('erased', 'masked') and about_run = ? and about_step = ?"
                                + " and about_place = ?",
                        eraser,
                        about.isToRun() ? EntryReader.OF_RUNS : EntryReader.OF_ENTRIES,
                        about.run(),
                        about.step(),
                        about.place())
                .stream()
                .findFirst();
    }
}
