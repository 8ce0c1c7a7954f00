package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.rule.Rule;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Finds what stands in the way of records that come back, and what would settle each. */
final class ConflictFinder {
    private static final int MOST_SURE = 10_000;

    private final Rules rules;
    private final Connection connection;
    private final EntryReader reader;
    private final CurrentRows standing;
    private final Set<Long> runs;
    private final RestoredEntries returned;
    private final Optional<RecordOfRun> chosen;
    private final List<Conflict> conflicts = new ArrayList<>();
    private final Set<String> reported = new LinkedHashSet<>();
    private final Map<Link, Set<List<String>>> coming = new HashMap<>();

    /** Parents that are there or come back as well; the last ones only, as neighbours mostly have the same. */
    private final Map<Sure, Boolean> sure = new LinkedHashMap<>() {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Sure, Boolean> eldest) {
            return size() > MOST_SURE;
        }
    };

    /** What makes a query lock the parents that it reads; leaves it as it is where nothing is written. */
    private UnaryOperator<Fragment> locking = query -> query;

    private record Sure(Link link, List<String> parent) {}

    /**
     * Finds nothing yet.
     *
     * @param runs the numbers of the runs that are to be undone
     * @param returned what of it has come back before
     * @param chosen what of it comes back; empty for all
     */
    ConflictFinder(
            Rules rules,
            Connection connection,
            EntryReader reader,
            CurrentRows standing,
            Set<Long> runs,
            RestoredEntries returned,
            Optional<RecordOfRun> chosen) {
        this.rules = rules;
        this.connection = connection;
        this.reader = reader;
        this.standing = standing;
        this.runs = runs;
        this.returned = returned;
        this.chosen = chosen;
    }

    /** From now on locks parents that no foreign key keeps from going while their children come back. */
    void lockParents(UnaryOperator<Fragment> how) {
        this.locking = how;
    }

    /** A column that needs a value and came after the record had gone. */
    void missingColumns(Table table, RestorableRow row) {
        for (Column column : table.columns()) {
            boolean needed = !column.nullable()
                    && !column.generated()
                    && CatalogColumn.of(column).declaredDefault().isEmpty()
                    && !row.image().containsKey(column);
            if (needed && reported.add(table + "." + column)) {
                conflict(
                        table.name(),
                        row.entry().keyText(),
                        "the trail has no value for the column " + column + ", which needs one",
                        "Give the column a default.");
            }
        }
    }

    /** What belongs to a record outside of the database, and can't be brought back. */
    void followers(FollowUpHandlers handlers, Table table, List<RestorableRow> rows) {
        ReadableImage readable = new ReadableImage(rules.catalog());
        for (RestorableRow row : rows) {
            if (conflicts.size() < RestorePlan.MOST_CONFLICTS) {
                handlers.hindrance(
                                rules,
                                table,
                                Optional.ofNullable(row.entry().key()),
                                rule -> readable.typed(table.name(), chosen(rule, row)))
                        .ifPresent(why -> conflict(
                                table.name(),
                                row.entry().keyText(),
                                why,
                                "Bring that back, or take the follow-up out of the rules."));
            }
        }
    }

    private static Map<String, Object> chosen(FollowUpRule rule, RestorableRow row) {
        Map<String, Object> values = new LinkedHashMap<>();
        rule.columns().forEach(column -> values.put(column.name(), row.image().get(column)));
        return values;
    }

    /** Columns that can't hold any more what a record had in them. */
    void unfit(Table table, List<RestorableRow> rows) {
        ColumnFit fit = new ColumnFit(reader.dialect());
        for (RestorableRow row : rows) {
            if (conflicts.size() < RestorePlan.MOST_CONFLICTS) {
                fit.hindering(table, row).ifPresent(conflicts::add);
            }
        }
    }

    /** Whatever has the same unique value now; of one among active records, only those. */
    void taken(Table table, List<Column> key, List<RestorableRow> rows, Optional<Condition> among) throws SQLException {
        List<RestorableRow> whole = rows.stream()
                .filter(row -> key.stream().allMatch(column -> row.image().get(column) != null))
                .toList();
        if (whole.isEmpty()) {
            return;
        }
        Condition same = new Condition.Pictured(
                key, whole.stream().map(row -> row.values(key)).toList());
        Condition condition = among.<Condition>map(only -> new Condition.AllOf(List.of(same, only)))
                .orElse(same);
        List<Column> read = new ArrayList<>(key);
        table.identity().stream().filter(column -> !read.contains(column)).forEach(read::add);
        for (Map<Column, Object> found : standing.images(table, read, condition)) {
            String other = TrailKey.of(standing.texts(table.identity(), found));
            List<String> texts = standing.texts(key, found);
            // The values stand in the records, for whoever may see them.
            String taken = key.stream().map(Column::name).collect(Collectors.joining(" and "));
            whole.stream()
                    .filter(row -> texts.equals(standing.texts(key, row.image())))
                    .findFirst()
                    .or(() -> whole.stream().findFirst())
                    .ifPresent(row -> conflict(
                            table.name(),
                            row.entry().keyText(),
                            key.equals(table.identity())
                                    ? "there is a record with this key again"
                                    : "its " + taken + (key.size() == 1 ? " is" : " are") + " taken by " + table + " "
                                            + other,
                            "Delete or change " + table + " " + other + " first."));
        }
    }

    /** Parents that neither stand there nor come back as well. */
    void missingParents(Link link, List<RestorableRow> rows) throws SQLException {
        boolean kept = rules.of(link).stream().allMatch(rule -> rule.rule() == Rule.KEEP);
        List<RestorableRow> pointing = rows.stream()
                .filter(row -> link.childColumns().stream()
                        .allMatch(column -> row.image().get(column) != null))
                .toList();
        if (pointing.isEmpty() || (kept && !CatalogLink.of(link).enforced())) {
            return;
        }
        Map<List<String>, RestorableRow> open = new LinkedHashMap<>();
        pointing.forEach(row -> open.putIfAbsent(standing.texts(link.childColumns(), row.image()), row));
        open.keySet().removeIf(key -> sure.containsKey(new Sure(link, key)));
        if (open.isEmpty()) {
            return;
        }
        List<List<String>> looked = List.copyOf(open.keySet());
        Condition referenced = new Condition.Pictured(
                link.parentColumns(),
                open.values().stream()
                        .map(row -> row.values(link.childColumns()))
                        .toList());
        for (Map<Column, Object> found : parents(link, referenced)) {
            open.remove(standing.texts(link.parentColumns(), found));
        }
        if (!open.isEmpty() && link.parentColumns().equals(link.parent().identity())) {
            List<String> keys = open.keySet().stream().map(TrailKey::of).toList();
            Set<String> coming = new HashSet<>();
            history().kept(link.parent().name(), keys, runs).stream()
                    .filter(entry -> !returned.contains(entry.reference()))
                    .forEach(entry -> coming.add(entry.key()));
            chosen.ifPresent(
                    only -> coming.removeIf(key -> !only.brings(link.parent().name(), key)));
            open.keySet().removeIf(key -> coming.contains(TrailKey.of(key)));
        }
        looked.stream().filter(key -> !open.containsKey(key)).forEach(key -> sure.put(new Sure(link, key), true));
        for (Map.Entry<List<String>, RestorableRow> missing : open.entrySet()) {
            if (!isThere(link, missing.getValue()) && !isComing(link, missing.getKey())) {
                conflict(
                        link.child().name(),
                        missing.getValue().entry().keyText(),
                        "its " + link.parent() + " " + TrailKey.of(missing.getKey()) + " (" + link.where()
                                + ") isn't there",
                        "Restore " + link.parent() + " " + TrailKey.of(missing.getKey()) + " first.");
            }
        }
    }

    /**
     * Parents that are there and were soft-deleted after the children had gone: those would be active below one that isn't. What was below
     * a soft-deleted parent before comes back as it was.
     */
    void endedParents(Link link, List<RestorableRow> rows) throws SQLException {
        RowMarker marker = rules.softness().markers().get(link.parent());
        List<RestorableRow> pointing = rows.stream()
                .filter(row -> isActive(link.child(), row))
                .filter(row -> link.childColumns().stream()
                        .allMatch(column -> row.image().get(column) != null))
                .toList();
        if (marker == null || pointing.isEmpty()) {
            return;
        }
        Column mark = link.parent().column(marker.column());
        Map<List<String>, RestorableRow> open = new LinkedHashMap<>();
        pointing.forEach(row -> open.putIfAbsent(standing.texts(link.childColumns(), row.image()), row));
        Condition referenced = new Condition.Pictured(
                link.parentColumns(),
                open.values().stream()
                        .map(row -> row.values(link.childColumns()))
                        .toList());
        List<Column> read = new ArrayList<>(link.parentColumns());
        Stream.concat(link.parent().identity().stream(), Stream.of(mark))
                .filter(column -> !read.contains(column))
                .forEach(read::add);
        Map<String, RestorableRow> ended = new LinkedHashMap<>();
        for (Map<Column, Object> found : standing.images(link.parent(), read, referenced)) {
            RestorableRow child = open.get(standing.texts(link.parentColumns(), found));
            if (child != null && !marker.isActive(link.parent(), found.get(mark))) {
                ended.put(TrailKey.of(standing.texts(link.parent().identity(), found)), child);
            }
        }
        if (ended.isEmpty()) {
            return;
        }
        long run = pointing.get(0).entry().run();
        Set<String> since = history().goneSince(link.parent().name(), List.copyOf(ended.keySet()), run, runs, true);
        ended.keySet().retainAll(since);
        ended.forEach((parent, child) -> conflict(
                link.child().name(),
                child.entry().keyText(),
                "its " + link.parent() + " " + parent + " (" + link.where() + ") was soft-deleted since",
                "Restore " + link.parent() + " " + parent + " first."));
    }

    boolean isActive(Table table, RestorableRow row) {
        RowMarker marker = rules.softness().markers().get(table);
        return marker == null || marker.isActive(table, row.image().get(table.column(marker.column())));
    }

    /** The two ends of a link can be written in different ways. */
    private boolean isThere(Link link, RestorableRow row) throws SQLException {
        Condition referenced = new Condition.Pictured(link.parentColumns(), List.of(row.values(link.childColumns())));
        return !parents(link, referenced).isEmpty();
    }

    private List<Map<Column, Object>> parents(Link link, Condition referenced) throws SQLException {
        List<Map<Column, Object>> found = new ArrayList<>();
        UnaryOperator<Fragment> how = CatalogLink.of(link).enforced() ? query -> query : locking;
        standing.each(link.parent(), link.parentColumns(), referenced, how, found::add);
        return found;
    }

    /** A parent that is known by another key than its own, and comes back as well. */
    private boolean isComing(Link link, List<String> wanted) throws SQLException {
        if (link.parentColumns().equals(link.parent().identity())) {
            return false;
        }
        if (!coming.containsKey(link)) {
            coming.put(link, coming(link));
        }
        return coming.get(link).contains(wanted);
    }

    /** All of them at once: to look for each by itself would read all entries for each. */
    private Set<List<String>> coming(Link link) throws SQLException {
        Set<List<String>> values = new HashSet<>();
        for (Long run : runs) {
            reader.eachOf(
                    connection,
                    run,
                    portion -> portion.stream()
                            .filter(entry -> entry.table().equals(link.parent().name()))
                            .filter(entry -> entry.action().removes() && !returned.contains(entry.reference()))
                            .flatMap(entry -> entry.image().stream())
                            .forEach(image -> values.add(referenced(link, image))));
        }
        return values;
    }

    private List<String> referenced(Link link, Map<String, Object> image) {
        Map<Column, Object> values = new LinkedHashMap<>();
        link.parentColumns().forEach(column -> values.put(column, image.get(column.name())));
        return standing.texts(link.parentColumns(), values);
    }

    /** Notes something else that stands in the way. */
    void conflict(String table, String key, String reason, String remedy) {
        if (conflicts.size() < RestorePlan.MOST_CONFLICTS) {
            conflicts.add(new Conflict(table, key, reason, remedy));
        }
    }

    List<Conflict> conflicts() {
        return conflicts;
    }

    private RecordHistory history() {
        return new RecordHistory(new SqlTrailStore(reader, new ReadableImage(rules.catalog()), connection));
    }
}
