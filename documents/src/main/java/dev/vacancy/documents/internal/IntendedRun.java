package dev.vacancy.documents.internal;

import com.mongodb.MongoBulkWriteException;
import com.mongodb.MongoException;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.internal.failure.UnknownOutcomes;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.bson.BSONException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A run from the first thing that is written down of it to the last. Where a transaction holds its changes, they are made in one, and nobody sees the run by
 * half; else they are written down before, and made one after the other.
 *
 * @param database the database
 * @param transactions those of its server; empty if it has none, or nothing is changed
 * @param clock tells when something was heard of it last
 * @param actor who wants it
 * @param ending what is kept of it, once it is done
 */
record IntendedRun(
        MongoDatabase database, Optional<Transactions> transactions, Clock clock, String actor, Ending ending) {
    private static final Logger LOG = LoggerFactory.getLogger(IntendedRun.class);
    private static final String ANOTHER = "a document is another than it was, or another run is at work on it";

    /** What a run does. It may be asked again, for another transaction. */
    interface Work {
        /**
         * Says what is to be changed.
         *
         * @param there the database, as the run finds it
         * @param changes takes each change
         */
        void writeDown(MongoDatabase there, Consumer<Change> changes);

        /**
         * Tells, once nobody else can change the documents any more, whether that is still what was agreed to.
         *
         * @param there the database, as the run finds it
         */
        boolean isUnchanged(MongoDatabase there);
    }

    /** Nothing is done but what is kept of it. */
    static final Work NOTHING = new Work() {
        @Override
        public void writeDown(MongoDatabase there, Consumer<Change> changes) {
            // Nothing is changed.
        }

        @Override
        public boolean isUnchanged(MongoDatabase there) {
            return true;
        }
    };

    /**
     * Carries it out, all or nothing.
     *
     * @param expected how many documents it changes
     * @param work what it does
     * @throws StalePlanException when it isn't what was agreed to any more, or a document is another than it was; nothing is changed then
     * @throws OutcomeUnknownException when the database stopped answering in the middle
     */
    void carryOut(long expected, Work work) {
        Intention intention = begun();
        Heartbeat beating = Heartbeat.begin(Intention.GIVEN_UP.dividedBy(4), intention::beat);
        try {
            if (transactions.isPresent() && expected <= Transactions.MOST) {
                commit(transactions.get(), intention, work);
            } else {
                goOn(intention, work);
            }
        } catch (MongoException failure) {
            throw UnknownOutcomes.cutOff(ending.run(), failure);
        } finally {
            beating.end();
        }
    }

    private Intention begun() {
        try {
            Intention intention = Intention.begin(database, clock, actor, ending);
            if (ending.begin(database)) {
                return intention;
            }
            intention.withdraw();
        } catch (MongoException failure) {
            throw unwritten(failure);
        }
        throw new StalePlanException(List.of("somebody else has taken it over meanwhile"));
    }

    private void goOn(Intention intention, Work work) {
        try {
            work.writeDown(database, intention::add);
        } catch (VacancyException | BSONException refused) {
            intention.withdraw();
            throw told(refused);
        } catch (MongoException failure) {
            throw unwritten(failure);
        }
        if (!intention.carryOut(() -> work.isUnchanged(database))) {
            throw new StalePlanException(
                    List.of(intention.refusal().map(IntendedRun::refused).orElse(ANOTHER)));
        }
    }

    private void commit(Transactions several, Intention intention, Work work) {
        try {
            several.run(database, there -> {
                intention.commit(there);
                List<Change> changes = new ArrayList<>();
                work.writeDown(there, change -> {
                    if (!change.isEmpty()) {
                        changes.add(change);
                    }
                });
                if (!work.isUnchanged(there)) {
                    throw new StalePlanException(List.of(ANOTHER));
                }
                Change.alike(changes).forEach(alike -> make(there, alike));
            });
        } catch (VacancyException | BSONException refused) {
            withdraw(intention);
            throw told(refused);
        } catch (MongoException failure) {
            if (Transactions.isUnknown(failure)) {
                throw failure;
            }
            withdraw(intention);
            throw new DatabaseException("change documents in a transaction", "Nothing was changed.", failure);
        }
        intention.end();
    }

    private static void make(MongoDatabase there, List<Change> alike) {
        try {
            if (Change.make(there, alike, Change::made) != alike.size()) {
                throw new StalePlanException(List.of(ANOTHER));
            }
        } catch (MongoBulkWriteException failure) {
            throw Change.refusal(failure)
                    .<RuntimeException>map(said -> new StalePlanException(List.of(refused(said))))
                    .orElse(failure);
        }
    }

    /** What is left of a run that has changed nothing is removed by whoever comes next, if not here. */
    private static void withdraw(Intention intention) {
        try {
            intention.withdraw();
        } catch (MongoException left) {
            LOG.debug("What was written down of a run that changed nothing is still there", left);
        }
    }

    private static String refused(String said) {
        return "the server refuses a change: " + said;
    }

    private static RuntimeException told(RuntimeException refused) {
        return refused instanceof BSONException tooLarge ? unwritten(tooLarge) : refused;
    }

    private static DatabaseException unwritten(Exception failure) {
        return new DatabaseException("write down what is to be done", "Nothing was changed.", failure);
    }
}
