package dev.vacancy.internal.follow;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** Makes messages of what the trail tells. */
public final class Collecting {
    private static final int RUNS = 100;
    private static final int ENTRIES = 1_000;

    private final List<FollowUpRule> rules;
    private final TrailTables trail;
    private final EntryReader reader;
    private final FollowUpTables tables;

    /**
     * Prepares to read.
     *
     * @param rules what follows
     * @param dialect the dialect of the database
     * @return empty where nothing follows
     */
    public static Optional<Collecting> of(Rules rules, Dialect dialect) {
        return rules.recording()
                .filter(kept -> !kept.followUps().isEmpty())
                .map(kept -> new Collecting(
                        kept.followUps(),
                        new TrailTables(kept.trail(), dialect),
                        new FollowUpTables(dialect, rules.catalog())));
    }

    private Collecting(List<FollowUpRule> rules, TrailTables trail, FollowUpTables tables) {
        this.rules = rules;
        this.trail = trail;
        this.reader = new EntryReader(trail);
        this.tables = tables;
    }

    /**
     * Takes down all that the trail tells by now, before something of it goes.
     *
     * @param connection a connection in a transaction that has locked the trail
     * @throws SQLException when the database refuses
     */
    public void all(Connection connection) throws SQLException {
        for (String name : names()) {
            boolean more = true;
            while (more) {
                more = next(connection, name);
            }
        }
    }

    /** The follow-ups, each once. */
    List<String> names() {
        return rules.stream().map(FollowUpRule::name).distinct().toList();
    }

    /**
     * Says of records that they can't come back any more, since what the trail has of them goes.
     *
     * @param connection a connection in a transaction that has locked the trail and taken down all of it
     * @param run the run that they went by
     * @param entries what the trail has of them
     * @param lost which of them can't come back by that, if they haven't before
     * @param returned which of them came back before
     * @param going the numbers of all runs of which something goes
     * @throws SQLException when the database refuses
     */
    public void noWayBack(
            Connection connection,
            StoredRun run,
            List<StoredEntry> entries,
            Predicate<StoredEntry> lost,
            Predicate<Reference> returned,
            Set<Long> going)
            throws SQLException {
        long place = trail.lastPlace(connection) + 1;
        List<Pending> messages = new ArrayList<>();
        for (FollowUpRule rule : rules) {
            List<StoredEntry> gone = entries.stream()
                    .filter(entry -> entry.table().equals(rule.table().name())
                            && lost.test(entry)
                            && !entry.isErased()
                            && !returned.test(entry.reference()))
                    .toList();
            Set<String> goneAgain = removedLater(connection, rule, gone, going);
            gone.stream()
                    .filter(entry -> entry.key() == null || !goneAgain.contains(entry.key()))
                    .forEach(entry -> messages.add(new Translation(rule).noWayBack(run, entry, place)));
        }
        tables.insert(connection, messages);
    }

    /** What belongs to a record of the same key that went later, and can still come back, is put aside for that. */
    private Set<String> removedLater(Connection connection, FollowUpRule rule, List<StoredEntry> gone, Set<Long> going)
            throws SQLException {
        List<String> keys = gone.stream()
                .map(StoredEntry::key)
                .filter(Objects::nonNull)
                .distinct()
                .toList();
        if (keys.isEmpty()) {
            return Set.of();
        }
        Fragment ofTable = Fragment.of(
                Statements.alias() + ".table_name = ?", Binding.of(rule.table().name()));
        return new EntriesByKey(reader)
                .withKeys(connection, keys, ofTable).stream()
                        .filter(entry -> entry.action().removes() && !going.contains(entry.run()))
                        .map(StoredEntry::key)
                        .collect(Collectors.toSet());
    }

    /** Takes down the next few messages of a follow-up; returns whether there may be more. */
    boolean next(Connection connection, String name) throws SQLException {
        Position position = tables.lockPosition(connection, name);
        Map<String, Translation> byTable = new LinkedHashMap<>();
        rules.stream()
                .filter(rule -> rule.name().equals(name))
                .forEach(rule -> byTable.put(rule.table().name(), new Translation(rule)));
        List<StoredRun> runs = trail.runs(connection, "place > ? order by place limit " + RUNS, position.place());
        Reading reading = new Reading(connection, byTable, position);
        for (StoredRun run : runs) {
            if (!reading.read(run)) {
                break;
            }
        }
        tables.insert(connection, reading.messages);
        if (!reading.position.equals(position)) {
            tables.save(connection, name, reading.position);
        }
        return !runs.isEmpty();
    }

    /** One portion. */
    private final class Reading {
        private final Connection connection;
        private final Map<String, Translation> byTable;
        private final List<Pending> messages = new ArrayList<>();
        private Position position;
        private int read;

        Reading(Connection connection, Map<String, Translation> byTable, Position position) {
            this.connection = connection;
            this.byTable = byTable;
            this.position = position;
        }

        /** Returns whether the run was read to its end. */
        boolean read(StoredRun run) throws SQLException {
            RunKind kind = run.facts().kind();
            if (kind.removes() || kind.restores() || kind == RunKind.MASKING) {
                for (EntryReader.StepOf step :
                        reader.steps(connection, run.facts().runId())) {
                    boolean concerned = byTable.containsKey(step.table()) && step.number() >= position.step();
                    if (concerned && !read(run, step.number(), byTable.get(step.table()))) {
                        return false;
                    }
                }
            }
            position = Position.behind(run.place());
            return true;
        }

        private boolean read(StoredRun run, int step, Translation translation) throws SQLException {
            long last = step == position.step() ? position.entry() : 0;
            while (read < ENTRIES) {
                List<StoredEntry> entries = reader.after(connection, run.facts().runId(), step, last, ENTRIES - read);
                if (entries.isEmpty()) {
                    return true;
                }
                translate(run, entries, translation);
                read += entries.size();
                last = entries.get(entries.size() - 1).place();
                position = position.within(step, last);
            }
            return false;
        }

        private void translate(StoredRun run, List<StoredEntry> entries, Translation translation) throws SQLException {
            Map<Reference, StoredEntry> originals =
                    entries.get(0).action() == Action.RESTORED ? reader.originals(connection, entries) : Map.of();
            for (StoredEntry entry : entries) {
                translation
                        .message(run, entry, Optional.ofNullable(entry.about()).map(originals::get))
                        .ifPresent(messages::add);
            }
        }
    }
}
