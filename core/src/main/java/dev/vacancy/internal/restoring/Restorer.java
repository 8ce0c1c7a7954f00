package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.Stretch;
import dev.vacancy.rule.SoftDelete;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/**
 * Looks through what runs have done, the last step first, for what can come back and what stands in the way. What is found is
 * handed on portion by portion, so that it never has to be held.
 */
final class Restorer {
    private final Rules rules;
    private final Clock clock;
    private final EntryReader reader;
    private final Connection connection;
    private final List<UUID> runs;
    private final Optional<RecordOfRun> chosen;
    private final RestoredEntries returned;
    private final Map<String, Long> counts = new LinkedHashMap<>();
    private final Map<String, Long> putBack = new LinkedHashMap<>();
    private final List<String> left = new ArrayList<>();
    private final Set<Table> reported = new HashSet<>();
    private final CurrentRows standing;
    private final Respelling respelling;
    private final UnchangedRecords untouched;
    private final ConflictFinder obstacles;
    private FollowUpHandlers handlers = FollowUpHandlers.NONE;
    private long before;

    /**
     * Prepares to look.
     *
     * @param runs what is to be undone, the last one first
     * @param chosen what of it; empty for all
     * @param returned what of it has come back before
     */
    Restorer(
            Rules rules,
            Dialect dialect,
            Clock clock,
            EntryReader reader,
            Connection connection,
            List<UUID> runs,
            Optional<RecordOfRun> chosen,
            RestoredEntries returned) {
        this.rules = rules;
        this.clock = clock;
        this.reader = reader;
        this.connection = connection;
        this.runs = runs;
        this.chosen = chosen;
        this.returned = returned;
        this.standing = new CurrentRows(dialect, connection);
        this.respelling = new Respelling(dialect, connection);
        Set<Long> numbers = runs.stream().map(RunNumber::of).collect(Collectors.toSet());
        this.untouched = new UnchangedRecords(
                rules, connection, reader, standing, new Closings(rules, clock, standing), numbers, returned);
        this.obstacles = new ConflictFinder(rules, connection, reader, standing, numbers, returned, chosen);
    }

    /** Takes what can come back. */
    interface Work {
        /** Is told which tables records of come back to, in this order, before anything else. */
        void begin(List<String> tables) throws SQLException;

        /** Is told what stands in the way of what it is about to take, and of what came before. */
        void expect(List<Conflict> conflicts);

        /**
         * Takes all records of one table that went and have their entries in a stretch.
         *
         * @return whether it did; if not, they are handed over
         */
        boolean insert(Table table, Stretch stretch) throws SQLException;

        /** Takes records of one table that went. */
        void insert(Table table, List<RestorableRow> rows) throws SQLException;

        /** Takes records of one table that stayed, changed. */
        void put(Table table, List<RestorableRow> rows) throws SQLException;

        /** Takes records of one table that a row closes. */
        void reopen(Table table, LatestRow latest, List<RestorableRow> rows) throws SQLException;
    }

    /**
     * How far a restore has come.
     *
     * @param step how many steps it is done with
     * @param after the number of the last entry of the step after them that it has looked at
     */
    record Place(int step, long after) {
        static final Place START = new Place(0, 0);
    }

    /** Goes through all of it. */
    void look(Work work) throws SQLException {
        look(work, Place.START, Long.MAX_VALUE);
    }

    /**
     * Goes through a portion of it.
     *
     * @param from where the portion before has ended
     * @param most about how many records it has at most
     * @return where it has ended, empty if nothing is left
     */
    Optional<Place> look(Work work, Place from, long most) throws SQLException {
        ReversedSteps steps = ReversedSteps.of(reader, connection, runs, rules.catalog());
        work.begin(steps.tablesFrom(from.step()));
        return new StepWalk(steps, reader, connection, most).walk(from, new StepWalk.Taking() {
            @Override
            public boolean takeAll(int step, Stretch stretch) throws SQLException {
                Optional<Table> table = restorableAtOnce(steps.run(step), steps.step(step));
                if (table.isEmpty() || !work.insert(table.get(), stretch)) {
                    return false;
                }
                count(table.get(), stretch.withContent());
                return true;
            }

            @Override
            public void take(List<StoredEntry> entries) throws SQLException {
                Restorer.this.take(stillAway(ofChosen(entries)), work);
            }
        });
    }

    /** The table whose records may come back without being looked at here; empty where something is to be known of each. */
    private Optional<Table> restorableAtOnce(UUID run, EntryReader.StepOf step) {
        boolean all = chosen.isEmpty() && !returned.hasAnyOf(run, step.number());
        return step.action().isDeletion() && all
                ? table(step.table()).filter(table -> !handlers.concern(rules, table))
                : Optional.empty();
    }

    private List<StoredEntry> ofChosen(List<StoredEntry> portion) {
        return chosen.map(only -> portion.stream().filter(only::contains).toList())
                .orElse(portion);
    }

    /** What came back before isn't brought back twice, wherever it may be now. */
    private List<StoredEntry> stillAway(List<StoredEntry> portion) {
        List<StoredEntry> away = portion.stream()
                .filter(entry -> !returned.contains(entry.reference()))
                .toList();
        before += portion.size() - away.size();
        return away;
    }

    private void take(List<StoredEntry> portion, Work work) throws SQLException {
        if (portion.isEmpty()) {
            return;
        }
        StoredEntry first = portion.get(0);
        Optional<Table> table = table(first.table());
        if (table.isEmpty()) {
            portion.forEach(entry -> obstacles.conflict(
                    entry.table(), entry.keyText(), "the table isn't there any more", "Make the table again."));
            return;
        }
        List<RestorableRow> rows = rows(table.get(), portion);
        if (rows.isEmpty()) {
            return;
        }
        switch (first.action()) {
            case DELETED, PURGED -> inserted(table.get(), rows, work);
            case MARKED -> marked(table.get(), rows, work);
            case DETACHED, REASSIGNED, RESET -> putBack(table.get(), rows, work);
            case TOUCHED -> tell("Who changed " + table.get() + " last stays as it is.");
            case REWRITTEN -> tell("What was masked in " + table.get() + " stays so.");
            default -> tell("What was " + first.word() + " of " + table.get() + " isn't undone.");
        }
    }

    private Optional<Table> table(String name) {
        return rules.catalog().tables().stream()
                .filter(table -> table.name().equals(name))
                .findFirst();
    }

    private List<RestorableRow> rows(Table table, List<StoredEntry> portion) throws SQLException {
        Map<String, Column> columns = new LinkedHashMap<>();
        table.columns().forEach(column -> columns.put(column.name(), column));
        List<RestorableRow> rows = new ArrayList<>();
        for (StoredEntry entry : portion) {
            Optional<Map<String, Object>> image = entry.image();
            if (image.isEmpty()) {
                tell("The content of " + table + " " + (entry.key() == null ? "(erased)" : entry.key())
                        + " was erased, so it stays away.");
                continue;
            }
            if (entry.isMasked()) {
                tell(table + " " + entry.keyText() + " comes back with asterisks where a text was masked.");
            }
            Map<Column, Object> values = new LinkedHashMap<>();
            image.get().forEach((name, value) -> {
                if (columns.containsKey(name)) {
                    values.put(columns.get(name), value);
                } else if (value != null && entry.action().isDeletion()) {
                    obstacles.conflict(
                            table.name(),
                            entry.keyText(),
                            "the column " + name + " isn't there any more, and had a value",
                            "Add the column again, or take what it held from the history.");
                }
            });
            rows.add(new RestorableRow(entry, values));
        }
        return respelling.of(rows);
    }

    /** Asks whoever handles what follows whether they can bring back their part. */
    Restorer asking(FollowUpHandlers followers) {
        this.handlers = followers;
        return this;
    }

    /** Has parents locked that nothing else would keep from going meanwhile. */
    Restorer lockingParents(UnaryOperator<Fragment> how) {
        obstacles.lockParents(how);
        return this;
    }

    private void inserted(Table table, List<RestorableRow> rows, Work work) throws SQLException {
        obstacles.followers(handlers, table, rows);
        obstacles.missingColumns(table, rows.get(0));
        obstacles.unfit(table, rows);
        tellWithheld(table, rows.get(0));
        List<List<Column>> keys = new ArrayList<>();
        if (!table.identity().isEmpty()) {
            keys.add(table.identity());
        }
        table.uniqueKeys().stream().filter(key -> !keys.contains(key)).forEach(keys::add);
        for (List<Column> key : keys) {
            obstacles.taken(table, key, rows, Optional.empty());
        }
        uniqueWhileActive(
                table,
                rows.stream().filter(row -> obstacles.isActive(table, row)).toList());
        for (Link link : rules.catalog().links()) {
            if (link.child().equals(table) && !CatalogLink.of(link).isMirror()) {
                obstacles.missingParents(link, rows);
                obstacles.endedParents(link, rows);
            }
        }
        count(table, rows.size());
        work.expect(conflicts());
        work.insert(table, rows);
    }

    private void count(Table table, long more) {
        if (more > 0) {
            counts.merge(table.name(), more, Long::sum);
        }
    }

    /** What the trail was told to leave out is lost, which nobody should find out afterwards. */
    private void tellWithheld(Table table, RestorableRow row) {
        List<String> withheld = table.columns().stream()
                .filter(column -> !row.image().containsKey(column))
                .filter(column -> rules.recording().orElseThrow().isWithheld(table, column))
                .map(Column::name)
                .toList();
        if (!withheld.isEmpty()) {
            tell("What " + table + " had in " + String.join(", ", withheld)
                    + " stays away: the trail was told to leave it out.");
        }
    }

    /** Not every database has an index that keeps records unique among the active ones only. */
    private void uniqueWhileActive(Table table, List<RestorableRow> rows) throws SQLException {
        SoftDelete soft = rules.softness().tables().get(table);
        if (soft == null || rows.isEmpty()) {
            return;
        }
        Optional<Condition> active =
                rules.active(table).map(criteria -> Resolution.of(criteria, table, rules.catalog(), clock));
        for (List<String> unique : soft.unique()) {
            obstacles.taken(table, unique.stream().map(table::column).toList(), rows, active);
        }
    }

    /** What a run has marked and nobody has touched since. */
    private void marked(Table table, List<RestorableRow> rows, Work work) throws SQLException {
        List<RestorableRow> kept = untouched(table, rows, Optional.of("deleted anew, or brought back, since"));
        if (kept.isEmpty()) {
            return;
        }
        obstacles.followers(handlers, table, kept);
        uniqueWhileActive(table, kept);
        tellOfChanges(table);
        for (Link link : rules.catalog().links()) {
            if (link.child().equals(table) && !CatalogLink.of(link).isMirror()) {
                obstacles.endedParents(link, kept);
            }
        }
        count(table, kept.size());
        work.expect(conflicts());
        Optional<LatestRow> latest = rules.latestRow(table);
        if (latest.isPresent()) {
            work.reopen(table, latest.get(), kept);
        } else {
            work.put(table, kept);
        }
    }

    private void putBack(Table table, List<RestorableRow> rows, Work work) throws SQLException {
        List<RestorableRow> kept = untouched(table, rows, Optional.empty());
        if (kept.isEmpty()) {
            return;
        }
        tellOfChanges(table);
        Set<Column> columns = UnchangedRecords.altered(table, kept.get(0)).keySet();
        for (Link link : rules.catalog().links()) {
            if (link.child().equals(table) && columns.containsAll(link.childColumns())) {
                obstacles.missingParents(link, kept);
                obstacles.endedParents(link, kept);
            }
        }
        List<String> names = columns.stream().map(Column::name).toList();
        // As links are called.
        String where = table + "." + (names.size() == 1 ? names.get(0) : "(" + String.join(", ", names) + ")");
        putBack.merge(where, (long) kept.size(), Long::sum);
        work.expect(conflicts());
        work.put(table, kept);
    }

    /** To come back is a change too, for a column that tells of the last one. */
    private void tellOfChanges(Table table) throws SQLException {
        if (reported.add(table)) {
            for (String column : reader.dialect().setAtEachChange(connection, table.schema(), table.storedName())) {
                tell("The database sets " + table + "." + column + " at each change, so it tells of the restore.");
            }
        }
    }

    private List<RestorableRow> untouched(Table table, List<RestorableRow> rows, Optional<String> marked)
            throws SQLException {
        List<RestorableRow> result = new ArrayList<>();
        untouched.of(table, rows).forEach((row, fate) -> {
            String record = table + " " + row.entry().keyText();
            if (fate == UnchangedRecords.Fate.UNTOUCHED) {
                result.add(row);
            } else if (fate == UnchangedRecords.Fate.GONE && marked.isPresent()) {
                obstacles.conflict(
                        table.name(),
                        row.entry().keyText(),
                        "it is gone for good",
                        "Restore the run that removed it first.");
            } else if (fate == UnchangedRecords.Fate.GONE) {
                tell(record + " stays as it is: it was deleted since.");
            } else if (fate == UnchangedRecords.Fate.ANOTHER && marked.isEmpty()) {
                tell(record + " stays as it is: it is another record than the one that had this key.");
            } else {
                tell(record + " stays as it is: it was " + marked.orElse("changed since") + ".");
            }
        });
        return result;
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
        return obstacles.conflicts();
    }
}
