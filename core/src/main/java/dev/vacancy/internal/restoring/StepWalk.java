package dev.vacancy.internal.restoring;

import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.PortionSize;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.Stretch;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** Goes through steps of runs entry by entry, up to a number of them, and no further than where what was taken can stand without the rest. */
final class StepWalk {
    private static final long MOST_AT_ONCE = 50_000;

    private final ReversedSteps steps;
    private final EntryReader reader;
    private final Connection connection;
    private final long most;
    private long taken;

    /** How far it has come. */
    private Restorer.Place place = Restorer.Place.START;

    /**
     * Begins nothing yet.
     *
     * @param most about how many entries it goes through at most
     */
    StepWalk(ReversedSteps steps, EntryReader reader, Connection connection, long most) {
        this.steps = steps;
        this.reader = reader;
        this.connection = connection;
        this.most = most;
    }

    /** Takes what it comes to. */
    interface Taking {
        /**
         * Takes the entries of a step that stand in a stretch.
         *
         * @return whether it did; if not, those of the step are handed over from there on
         */
        boolean takeAll(int step, Stretch stretch) throws SQLException;

        /** Takes entries of a step. */
        void take(List<StoredEntry> entries) throws SQLException;
    }

    /**
     * Goes on.
     *
     * @param from where it ended before
     * @return where it has ended, empty if nothing is left
     */
    Optional<Restorer.Place> walk(Restorer.Place from, Taking taking) throws SQLException {
        for (int step = from.step(); step < steps.size(); step++) {
            place = step == from.step() ? from : new Restorer.Place(step, 0);
            if (endsAtOnce(taking) || endsOneByOne(taking)) {
                return Optional.of(place);
            }
        }
        return Optional.empty();
    }

    private boolean endsAtOnce(Taking taking) throws SQLException {
        Optional<Stretch> stretch = stretch();
        while (stretch.isPresent()) {
            if (isEnough()) {
                return true;
            }
            if (!taking.takeAll(place.step(), stretch.get())) {
                return false;
            }
            advance(stretch.get().last(), stretch.get().count());
            stretch = stretch();
        }
        return false;
    }

    private Optional<Stretch> stretch() throws SQLException {
        return reader.stretch(
                connection,
                steps.run(place.step()),
                steps.step(place.step()).number(),
                place.after(),
                Math.min(most, MOST_AT_ONCE));
    }

    private boolean endsOneByOne(Taking taking) throws SQLException {
        PortionSize stride = new PortionSize(reader.dialect().picturedAtOnce());
        List<StoredEntry> entries = entries(stride);
        while (!entries.isEmpty()) {
            if (isEnough()) {
                return true;
            }
            advance(entries.get(entries.size() - 1).place(), entries.size());
            taking.take(entries);
            stride.after(entries);
            entries = entries(stride);
        }
        return false;
    }

    private List<StoredEntry> entries(PortionSize stride) throws SQLException {
        return reader.after(
                connection,
                steps.run(place.step()),
                steps.step(place.step()).number(),
                place.after(),
                Math.min(most, stride.rows()));
    }

    private boolean isEnough() {
        return taken >= most && steps.mayEndAt(place);
    }

    private void advance(long last, long count) {
        place = new Restorer.Place(place.step(), last);
        taken += count;
    }
}
