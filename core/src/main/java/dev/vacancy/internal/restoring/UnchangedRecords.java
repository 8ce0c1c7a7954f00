package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.RecordHistory.Mention;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.StoredEntry;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;

/**
 * Which records that a run has changed are still as it left them. Whether it is the same record at all, and not another one that has
 * its key since, is told by the trail; and a record that comes back in the same restore counts as if it were back.
 */
final class UnchangedRecords {
    /** Within which time a trigger stamps what the run that fires it has marked. */
    private static final Duration LONGEST_RUN = Duration.ofMinutes(1);

    private final Rules rules;
    private final Connection connection;
    private final EntryReader reader;
    private final CurrentRows standing;
    private final Closings closings;
    private final Set<Long> runs;
    private final RestoredEntries returned;

    /** What became of a record since. */
    enum Fate {
        /** It is as the run left it. */
        UNTOUCHED,
        /** It is there, and holds something else. */
        CHANGED,
        /** It isn't there. */
        GONE,
        /** It is gone, and another one has its key. */
        ANOTHER
    }

    /**
     * Looks at nothing yet.
     *
     * @param runs the numbers of the runs that are undone
     * @param returned what of them has come back before
     */
    UnchangedRecords(
            Rules rules,
            Connection connection,
            EntryReader reader,
            CurrentRows standing,
            Closings closings,
            Set<Long> runs,
            RestoredEntries returned) {
        this.rules = rules;
        this.connection = connection;
        this.reader = reader;
        this.standing = standing;
        this.closings = closings;
        this.runs = runs;
        this.returned = returned;
    }

    /** Tells what became of some records of one step. */
    Map<RestorableRow, Fate> of(Table table, List<RestorableRow> rows) throws SQLException {
        boolean marked = rows.get(0).entry().action() == Action.MARKED;
        Condition same = new Condition.Pictured(
                table.identity(),
                rows.stream().map(row -> row.values(table.identity())).toList());
        Set<List<String>> there = standing.keys(table, same);
        Set<List<String>> unchanged = new LinkedHashSet<>(unchanged(table, rows.get(0), same, there));
        if (marked && !unchanged.containsAll(there)) {
            unchanged.addAll(stampedAnew(table, rows.get(0), same));
        }
        Optional<LatestRow> latest = marked ? rules.latestRow(table) : Optional.empty();
        Set<RestorableRow> closed = latest.isPresent() ? closings.closed(table, latest.get(), rows) : Set.of();
        Set<String> others = gone(table, rows, marked);
        Map<String, StoredEntry> coming = coming(table, rows, there);
        Map<RestorableRow, Fate> fates = new LinkedHashMap<>();
        for (RestorableRow row : rows) {
            List<String> key = standing.texts(table.identity(), row.image());
            StoredEntry back = coming.get(row.entry().key());
            if (!there.contains(key)) {
                boolean returns = back != null && !marked && isAsLeft(table, row, back);
                fates.put(row, returns ? Fate.UNTOUCHED : Fate.GONE);
            } else if (others.contains(row.entry().key())) {
                fates.put(row, Fate.ANOTHER);
            } else {
                boolean asLeft = unchanged.contains(key) && (latest.isEmpty() || closed.contains(row));
                fates.put(row, asLeft ? Fate.UNTOUCHED : Fate.CHANGED);
            }
        }
        return fates;
    }

    static Map<Column, Object> altered(Table table, RestorableRow row) {
        Map<Column, Object> altered = new LinkedHashMap<>();
        row.entry().alteration().orElse(Map.of()).forEach((name, value) -> altered.put(table.column(name), value));
        return altered;
    }

    /** Those whose columns still hold what the run has written there. */
    private Set<List<String>> unchanged(Table table, RestorableRow first, Condition same, Set<List<String>> there)
            throws SQLException {
        boolean comparing = first.entry().action() != Action.RESET
                && (first.entry().action() != Action.MARKED
                        || rules.latestRow(table).isEmpty());
        if (!comparing) {
            return there;
        }
        List<Condition> parts = new ArrayList<>(List.of(same));
        altered(table, first).forEach((column, value) -> {
            if (!isStamp(table, column)) {
                parts.add(
                        value == null
                                ? new Condition.IsNull(column)
                                : new Condition.Means(
                                        column, CatalogTable.of(table).convert(column, value)));
            }
        });
        return standing.keys(table, new Condition.AllOf(parts));
    }

    /**
     * Those whose marker a trigger has set a moment later than the run did, to the fraction of a second perhaps. That nobody else has marked
     * them since is told by the trail.
     */
    private Set<List<String>> stampedAnew(Table table, RestorableRow first, Condition same) throws SQLException {
        Set<List<String>> stamped = new LinkedHashSet<>();
        RowMarker marker = rules.softness().markers().get(table);
        if (marker == null
                || rules.latestRow(table).isPresent()
                || reader.dialect()
                        .judges(connection, table.schema(), table.storedName())
                        .isEmpty()) {
            return stamped;
        }
        Column mark = table.column(marker.column());
        Object written = altered(table, first).get(mark);
        List<Column> read = new ArrayList<>(table.identity());
        read.add(mark);
        for (Map<Column, Object> found : standing.images(table, read, same)) {
            if (isMomentLater(table, mark, written, found.get(mark))) {
                stamped.add(standing.texts(table.identity(), found));
            }
        }
        return stamped;
    }

    private static boolean isMomentLater(Table table, Column mark, Object written, Object there) {
        if (written == null || there == null) {
            return false;
        }
        Object before = CatalogTable.of(table).convert(mark, written);
        Object after = CatalogTable.of(table).convert(mark, there);
        if (before instanceof Temporal from
                && after instanceof Temporal to
                && from.getClass().equals(to.getClass())
                && from.isSupported(ChronoUnit.NANOS)) {
            long nanos = from.until(to, ChronoUnit.NANOS);
            return nanos >= 0 && nanos < LONGEST_RUN.toNanos();
        }
        return false;
    }

    private boolean isStamp(Table table, Column column) {
        return Optional.ofNullable(rules.softness().tables().get(table))
                .map(soft -> column.name().equals(soft.actorColumn().orElse(""))
                        || column.name().equals(soft.reasonColumn().orElse("")))
                .orElse(false);
    }

    private Set<String> gone(Table table, List<RestorableRow> rows, boolean marked) throws SQLException {
        return history().goneSince(table.name(), keys(rows), rows.get(0).entry().run(), runs, marked);
    }

    private static List<String> keys(List<RestorableRow> rows) {
        return rows.stream().map(row -> row.entry().key()).toList();
    }

    /** The records that aren't there and come back in the same restore, as they were when they went. */
    private Map<String, StoredEntry> coming(Table table, List<RestorableRow> rows, Set<List<String>> there)
            throws SQLException {
        List<String> missing = rows.stream()
                .filter(row -> !there.contains(standing.texts(table.identity(), row.image())))
                .map(row -> row.entry().key())
                .toList();
        Map<String, StoredEntry> coming = new HashMap<>();
        if (missing.isEmpty()) {
            return coming;
        }
        for (Mention mention : history().kept(table.name(), missing, runs)) {
            Reference reference = mention.reference();
            if (mention.action().isDeletion() && !returned.contains(reference)) {
                reader.at(connection, reference).ifPresent(entry -> coming.put(mention.key(), entry));
            }
        }
        return coming;
    }

    private boolean isAsLeft(Table table, RestorableRow row, StoredEntry back) {
        Map<String, Object> image = back.image().orElse(Map.of());
        return altered(table, row).entrySet().stream()
                .allMatch(entry -> isStamp(table, entry.getKey()) || isSame(table, entry, image));
    }

    private static boolean isSame(Table table, Map.Entry<Column, Object> altered, Map<String, Object> image) {
        Object value = image.get(altered.getKey().name());
        if (value == null || altered.getValue() == null) {
            return value == altered.getValue();
        }
        return Objects.equals(
                CatalogTable.of(table).convert(altered.getKey(), value),
                CatalogTable.of(table).convert(altered.getKey(), altered.getValue()));
    }

    private RecordHistory history() {
        return new RecordHistory(new SqlTrailStore(reader, new ReadableImage(rules.catalog()), connection));
    }
}
