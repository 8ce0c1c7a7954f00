package dev.vacancy.internal.restoring;

import dev.vacancy.audit.Conflict;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryReader.StepOf;
import dev.vacancy.internal.trail.EntryReader.Stored;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.Rules;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;

/**
 * Looks through what runs have done, the last step first, for what can come back and what stands in the way. What is found is
 * handed on portion by portion, so that it never has to be held.
 */
final class Restorer {
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final EntryReader reader;
    private final Connection connection;
    private final List<UUID> runs;
    private final Optional<Chosen> chosen;
    private final List<UUID> parts;
    private final Map<String, Long> counts = new LinkedHashMap<>();
    private final Map<String, Long> putBack = new LinkedHashMap<>();
    private final List<String> left = new ArrayList<>();
    private final List<Conflict> conflicts = new ArrayList<>();
    private final Set<String> told = new LinkedHashSet<>();
    private long before;

    /**
     * Prepares to look.
     *
     * @param runs what is to be undone, the last one first
     * @param chosen what of it; empty for all
     * @param parts the restores that have brought back some of it before
     */
    Restorer(
            Rules rules,
            Dialect dialect,
            Clock clock,
            EntryReader reader,
            Connection connection,
            List<UUID> runs,
            Optional<Chosen> chosen,
            List<UUID> parts) {
        this.rules = rules;
        this.dialect = dialect;
        this.clock = clock;
        this.reader = reader;
        this.connection = connection;
        this.runs = runs;
        this.chosen = chosen;
        this.parts = parts;
    }

    /** Takes what can come back. */
    interface Work {
        /** Is told which tables records of come back to, in this order, before anything else. */
        void begin(List<String> tables) throws SQLException;

        /** Takes records of one table that went. */
        void insert(Table table, List<Row> rows) throws SQLException;

        /** Takes records of one table that stayed, changed. */
        void put(Table table, List<Row> rows) throws SQLException;
    }

    /**
     * A record that comes back.
     *
     * @param entry what the trail says of it
     * @param image the values of its columns
     */
    record Row(Stored entry, Map<Column, Object> image) {
        /** The same without all other columns. */
        Row only(List<Column> key, List<Column> columns) {
            Map<Column, Object> kept = new LinkedHashMap<>();
            key.forEach(column -> kept.put(column, image.get(column)));
            columns.forEach(column -> kept.put(column, image.get(column)));
            Stored bare = new Stored(
                    entry.run(), 0, 0, entry.action(), entry.table(), entry.key(), null, null, null, null, "", "");
            return new Row(bare, kept);
        }

        List<Object> values(List<Column> columns) {
            List<Object> values = new ArrayList<>();
            columns.forEach(column -> values.add(image.get(column)));
            return values;
        }
    }

    /** Goes through all of it. */
    void look(Work work) throws SQLException {
        List<Taken> steps = new ArrayList<>();
        for (UUID run : runs) {
            List<StepOf> own = new ArrayList<>(reader.steps(connection, run));
            Collections.reverse(own);
            own.forEach(step -> steps.add(new Taken(run, step)));
        }
        work.begin(steps.stream()
                .filter(taken -> taken.step().isDeletion())
                .map(taken -> taken.step().table())
                .toList());
        for (Taken taken : steps) {
            reader.each(
                    connection,
                    taken.run(),
                    taken.step().number(),
                    portion -> take(stillAway(ofChosen(portion)), work));
        }
    }

    private List<Stored> ofChosen(List<Stored> portion) {
        return chosen.map(only -> portion.stream().filter(only::contains).toList())
                .orElse(portion);
    }

    /** What came back before isn't brought back twice, wherever it may be now. */
    private List<Stored> stillAway(List<Stored> portion) throws SQLException {
        if (portion.isEmpty() || parts.isEmpty()) {
            return portion;
        }
        Set<String> back = new LinkedHashSet<>(reader.restored(
                connection,
                parts,
                portion.get(0).table(),
                portion.stream().map(Stored::key).toList()));
        List<Stored> away =
                portion.stream().filter(entry -> !back.contains(entry.key())).toList();
        before += portion.size() - away.size();
        return away;
    }

    private record Taken(UUID run, StepOf step) {}

    private void take(List<Stored> portion, Work work) throws SQLException {
        if (portion.isEmpty()) {
            return;
        }
        Stored first = portion.get(0);
        Optional<Table> table = table(first.table());
        if (table.isEmpty()) {
            portion.forEach(entry ->
                    conflict(entry.table(), entry.key(), "the table isn't there any more", "Make the table again."));
            return;
        }
        List<Row> rows = rows(table.get(), portion);
        if (rows.isEmpty()) {
            return;
        }
        switch (first.action()) {
            case "deleted", "purged" -> inserted(table.get(), rows, work);
            case "marked" -> marked(table.get(), rows, work);
            case "detached", "reassigned", "reset" -> putBack(table.get(), rows, work);
            case "touched" -> tell("Who changed " + table.get() + " last stays as it is.");
            default -> tell("What was " + first.action() + " of " + table.get() + " isn't undone.");
        }
    }

    private Optional<Table> table(String name) {
        return rules.catalog().tables().stream()
                .filter(table -> table.name().equals(name))
                .findFirst();
    }

    private List<Row> rows(Table table, List<Stored> portion) {
        Map<String, Column> columns = new LinkedHashMap<>();
        table.columns().forEach(column -> columns.put(column.name(), column));
        List<Row> rows = new ArrayList<>();
        for (Stored entry : portion) {
            Optional<Map<String, Object>> image = entry.image();
            if (image.isEmpty()) {
                tell("The content of " + table + " " + entry.key() + " was erased, so it stays away.");
                continue;
            }
            Map<Column, Object> values = new LinkedHashMap<>();
            image.get().forEach((name, value) -> {
                if (columns.containsKey(name)) {
                    values.put(columns.get(name), value);
                } else if (value != null) {
                    conflict(
                            table.name(),
                            entry.key(),
                            "the column " + name + " isn't there any more, and had a value",
                            "Add the column again, or take what it held from the history.");
                }
            });
            rows.add(new Row(entry, values));
        }
        return rows;
    }

    private void inserted(Table table, List<Row> rows, Work work) throws SQLException {
        refuseMissingColumns(table, rows.get(0));
        List<List<Column>> keys = new ArrayList<>();
        if (!table.identity().isEmpty()) {
            keys.add(table.identity());
        }
        table.uniqueKeys().stream().filter(key -> !keys.contains(key)).forEach(keys::add);
        for (List<Column> key : keys) {
            taken(table, key, rows, Optional.empty());
        }
        for (Link link : rules.catalog().links()) {
            if (link.child().equals(table) && !link.isMirror()) {
                missingParents(link, rows);
            }
        }
        counts.merge(table.name(), (long) rows.size(), Long::sum);
        work.insert(table, rows);
    }

    private void refuseMissingColumns(Table table, Row row) {
        for (Column column : table.columns()) {
            boolean needed = !column.nullable()
                    && !column.generated()
                    && column.declaredDefault().isEmpty()
                    && !row.image().containsKey(column);
            if (needed && told.add(table + "." + column)) {
                conflict(
                        table.name(),
                        row.entry().key(),
                        "the trail has no value for the column " + column + ", which needs one",
                        "Give the column a default.");
            }
        }
    }

    /** Whatever has the same unique value now; of one among active records, only those. */
    private void taken(Table table, List<Column> key, List<Row> rows, Optional<Condition> among) throws SQLException {
        List<Row> whole = rows.stream()
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
        for (Map<Column, Object> found : images(table, read, condition)) {
            String other = table.identity().stream()
                    .map(column -> String.valueOf(found.get(column)))
                    .collect(Collectors.joining(","));
            String values =
                    key.stream().map(column -> column + " " + found.get(column)).collect(Collectors.joining(", "));
            whole.stream()
                    .filter(row -> key.stream()
                            .allMatch(column -> Objects.equals(
                                    String.valueOf(found.get(column)),
                                    String.valueOf(row.image().get(column)))))
                    .findFirst()
                    .or(() -> whole.stream().findFirst())
                    .ifPresent(row -> conflict(
                            table.name(),
                            row.entry().key(),
                            key.equals(table.identity())
                                    ? "there is a record with this key again"
                                    : values + " is taken by " + table + " " + other,
                            "Delete or change " + table + " " + other + " first."));
        }
    }

    private void missingParents(Link link, List<Row> rows) throws SQLException {
        boolean kept = rules.of(link).stream().allMatch(rule -> rule.rule() == Rule.KEEP);
        List<Row> pointing = rows.stream()
                .filter(row -> link.childColumns().stream()
                        .allMatch(column -> row.image().get(column) != null))
                .toList();
        if (pointing.isEmpty() || (kept && !link.declared())) {
            return;
        }
        Map<List<String>, Row> open = new LinkedHashMap<>();
        pointing.forEach(row -> open.putIfAbsent(texts(row.values(link.childColumns())), row));
        Condition referenced = new Condition.Pictured(
                link.parentColumns(),
                open.values().stream()
                        .map(row -> row.values(link.childColumns()))
                        .toList());
        for (Map<Column, Object> found : images(link.parent(), link.parentColumns(), referenced)) {
            List<Object> values = new ArrayList<>();
            link.parentColumns().forEach(column -> values.add(found.get(column)));
            open.remove(texts(values));
        }
        if (!open.isEmpty() && link.parentColumns().equals(link.parent().identity())) {
            List<String> keys =
                    open.keySet().stream().map(key -> String.join(",", key)).toList();
            List<String> gone =
                    new ArrayList<>(reader.gone(connection, runs, link.parent().name(), keys));
            gone.removeAll(reader.restored(connection, parts, link.parent().name(), keys));
            chosen.ifPresent(
                    only -> gone.removeIf(key -> !only.brings(link.parent().name(), key)));
            open.keySet().removeIf(key -> gone.contains(String.join(",", key)));
        }
        for (Map.Entry<List<String>, Row> missing : open.entrySet()) {
            if (!isThere(link, missing.getValue()) && !isComing(link, missing.getKey())) {
                conflict(
                        link.child().name(),
                        missing.getValue().entry().key(),
                        "its " + link.parent() + " " + String.join(",", missing.getKey()) + " (" + link.where()
                                + ") isn't there",
                        "Restore " + link.parent() + " " + String.join(",", missing.getKey()) + " first.");
            }
        }
    }

    /** The two ends of a link can be written in different ways. */
    private boolean isThere(Link link, Row row) throws SQLException {
        Condition referenced = new Condition.Pictured(link.parentColumns(), List.of(row.values(link.childColumns())));
        return !images(link.parent(), link.parentColumns(), referenced).isEmpty();
    }

    /** A parent that is known by another key than its own, and comes back as well. */
    private boolean isComing(Link link, List<String> wanted) throws SQLException {
        if (link.parentColumns().equals(link.parent().identity())) {
            return false;
        }
        boolean[] found = {false};
        for (UUID run : runs) {
            for (StepOf step : reader.steps(connection, run)) {
                if (step.table().equals(link.parent().name())) {
                    reader.each(
                            connection,
                            run,
                            step.number(),
                            portion -> rows(link.parent(), portion)
                                    .forEach(row -> found[0] |= texts(row.values(link.parentColumns()))
                                            .equals(wanted)));
                }
            }
        }
        return found[0];
    }

    private static List<String> texts(List<Object> values) {
        return values.stream().map(String::valueOf).toList();
    }

    /** What a run has marked and nobody has touched since. */
    private void marked(Table table, List<Row> rows, Work work) throws SQLException {
        List<Row> untouched = untouched(table, rows, Optional.of("deleted anew, or brought back, since"));
        if (untouched.isEmpty()) {
            return;
        }
        Optional<Condition> active =
                rules.active(table).map(criteria -> Resolution.of(criteria, table, rules.catalog(), clock));
        for (List<String> unique : Optional.ofNullable(rules.softness().tables().get(table))
                .map(soft -> soft.unique())
                .orElse(List.of())) {
            taken(table, unique.stream().map(table::column).toList(), untouched, active);
        }
        counts.merge(table.name(), (long) untouched.size(), Long::sum);
        work.put(table, untouched);
    }

    private void putBack(Table table, List<Row> rows, Work work) throws SQLException {
        List<Row> untouched = untouched(table, rows, Optional.empty());
        if (untouched.isEmpty()) {
            return;
        }
        Set<Column> columns = altered(table, untouched.get(0)).keySet();
        for (Link link : rules.catalog().links()) {
            if (link.child().equals(table) && columns.containsAll(link.childColumns())) {
                missingParents(link, untouched);
            }
        }
        String where = table + "." + columns.stream().map(Column::name).collect(Collectors.joining("+"));
        putBack.merge(where, (long) untouched.size(), Long::sum);
        work.put(table, untouched);
    }

    /** Those whose columns still hold what the run has written there. */
    private List<Row> untouched(Table table, List<Row> rows, Optional<String> marked) throws SQLException {
        Map<Column, Object> altered = altered(table, rows.get(0));
        boolean comparing = !rows.get(0).entry().action().equals("reset");
        Map<List<String>, Row> byKey = new LinkedHashMap<>();
        rows.forEach(row -> byKey.put(texts(row.values(table.identity())), row));
        Condition same = new Condition.Pictured(
                table.identity(),
                rows.stream().map(row -> row.values(table.identity())).toList());
        Set<List<String>> there = keys(table, same);
        Set<List<String>> untouched =
                comparing ? keys(table, new Condition.AllOf(unchanged(table, altered, same))) : there;
        List<Row> result = new ArrayList<>();
        byKey.forEach((key, row) -> {
            if (untouched.contains(key)) {
                result.add(row);
            } else if (!there.contains(key) && marked.isPresent()) {
                conflict(
                        table.name(),
                        String.join(",", key),
                        "it is gone for good",
                        "Restore the run that removed it first.");
            } else {
                tell(table + " " + String.join(",", key) + " stays as it is: it was "
                        + (there.contains(key) ? marked.orElse("changed since") : "deleted since") + ".");
            }
        });
        return result;
    }

    private List<Condition> unchanged(Table table, Map<Column, Object> altered, Condition same) {
        List<Condition> parts = new ArrayList<>();
        parts.add(same);
        altered.forEach((column, value) -> {
            boolean stamp = Optional.ofNullable(rules.softness().tables().get(table))
                    .map(soft -> column.name().equals(soft.who().orElse(""))
                            || column.name().equals(soft.why().orElse("")))
                    .orElse(false);
            if (!stamp) {
                parts.add(
                        value == null
                                ? new Condition.IsNull(column)
                                : new Condition.Means(column, table.convert(column, value)));
            }
        });
        return parts;
    }

    private static Map<Column, Object> altered(Table table, Row row) {
        Map<Column, Object> altered = new LinkedHashMap<>();
        row.entry().alteration().orElse(Map.of()).forEach((name, value) -> altered.put(table.column(name), value));
        return altered;
    }

    private Set<List<String>> keys(Table table, Condition condition) throws SQLException {
        Set<List<String>> keys = new LinkedHashSet<>();
        for (Map<Column, Object> found : images(table, table.identity(), condition)) {
            List<Object> values = new ArrayList<>();
            table.identity().forEach(column -> values.add(found.get(column)));
            keys.add(texts(values));
        }
        return keys;
    }

    private List<Map<Column, Object>> images(Table table, List<Column> columns, Condition condition)
            throws SQLException {
        List<String> read = columns.stream()
                .map(column -> dialect.imageText(column.type(), dialect.name(Statements.alias(), column)))
                .toList();
        Fragment from = condition
                .in(dialect, Statements.alias())
                .between(dialect.name(table) + " as " + Statements.alias() + " where ", "");
        List<Map<Column, Object>> images = new ArrayList<>();
        try (PreparedStatement query = Statements.select(read, from).prepare(connection);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                Map<Column, Object> image = new LinkedHashMap<>();
                for (int i = 0; i < columns.size(); i++) {
                    image.put(
                            columns.get(i),
                            dialect.readImage(row, i + 1, columns.get(i).type()));
                }
                images.add(image);
            }
        }
        return images;
    }

    private void conflict(String table, String key, String reason, String remedy) {
        if (conflicts.size() < RestorePlan.MOST_CONFLICTS) {
            conflicts.add(new Conflict(table, key, reason, remedy));
        }
    }

    private void tell(String sentence) {
        if (left.size() < RestorePlan.MOST_CONFLICTS && !left.contains(sentence)) {
            left.add(sentence);
        }
    }

    Map<String, Long> counts() {
        return counts;
    }

    Map<String, Long> linksPutBack() {
        return putBack;
    }

    List<String> left() {
        if (before > 0) {
            tell(String.format(
                    Locale.ROOT, "%,d %s brought back before.", before, before == 1 ? "record was" : "records were"));
        }
        return left;
    }

    List<Conflict> conflicts() {
        return conflicts;
    }

    /** Refuses what has no way back. */
    static InvalidRequestException refusal(String what, String remedy) {
        return new InvalidRequestException(FailureCode.RUN_STATE, what, remedy);
    }
}
