package dev.vacancy.internal.follow;

import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/** Takes down what a trail in tables tells, in the transaction of a connection. */
public final class Collecting {
    private final Rules rules;
    private final TrailTables trail;
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
                        rules, new TrailTables(kept.trail(), dialect), new FollowUpTables(dialect, rules.catalog())));
    }

    private Collecting(Rules rules, TrailTables trail, FollowUpTables tables) {
        this.rules = rules;
        this.trail = trail;
        this.tables = tables;
    }

    private TrailMessages messages(Connection connection) {
        List<FollowUpRule> followUps = FollowUpHandlers.rules(rules);
        SqlTrailStore store = new SqlTrailStore(new EntryReader(trail), new ReadableImage(rules.catalog()), connection);
        return new TrailMessages(followUps, store, new ImageValues());
    }

    /**
     * Takes down all that the trail tells by now, before something of it goes.
     *
     * @param connection a connection in a transaction that has locked the trail
     * @throws SQLException when the database refuses
     */
    public void all(Connection connection) throws SQLException {
        for (String name : TrailMessages.names(rules)) {
            boolean more = true;
            while (more) {
                more = next(connection, name);
            }
        }
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
        tables.insert(connection, messages(connection).noWayBack(run, entries, lost, returned, going, place));
    }

    /** Takes down the next few messages of a follow-up; returns whether there may be more. */
    boolean next(Connection connection, String name) throws SQLException {
        Position position = tables.lockPosition(connection, name);
        TrailMessages.Portion portion = messages(connection).next(name, position);
        tables.insert(connection, portion.messages());
        if (!portion.position().equals(position)) {
            tables.save(connection, name, portion.position());
        }
        return portion.more();
    }
}
