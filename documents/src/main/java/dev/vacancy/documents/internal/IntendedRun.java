package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.StalePlanException;
import java.time.Clock;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import org.bson.BSONException;

/**
 * A run from the first thing that is written down of it to the last.
 *
 * @param database the database
 * @param clock tells when something was heard of it last
 * @param actor who wants it
 * @param ending what is kept of it, once it is done
 */
record IntendedRun(MongoDatabase database, Clock clock, String actor, Ending ending) {
    /**
     * Carries it out, all or nothing.
     *
     * @param writing writes down what is to be changed
     * @param unchanged tells, once nobody else can change the documents any more, whether that is still what was agreed to
     * @throws StalePlanException when it isn't, or a document is another than it was; nothing is changed then
     * @throws OutcomeUnknownException when the database stopped answering in the middle
     */
    void carryOut(Consumer<Intention> writing, BooleanSupplier unchanged) {
        Intention intention = begun();
        Heartbeat beating = Heartbeat.begin(Intention.GIVEN_UP.dividedBy(4), intention::beat);
        try {
            write(intention, writing);
            if (!intention.carryOut(unchanged)) {
                throw new StalePlanException(List.of(intention
                        .refusal()
                        .map(said -> "the server refuses a change: " + said)
                        .orElse("a document is another than it was, or another run is at work on it")));
            }
        } catch (MongoException failure) {
            throw OutcomeUnknownException.cutOff(ending.run(), failure);
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

    private static void write(Intention intention, Consumer<Intention> writing) {
        try {
            writing.accept(intention);
        } catch (StalePlanException | BSONException refused) {
            intention.withdraw();
            throw refused instanceof BSONException tooLarge ? unwritten(tooLarge) : refused;
        } catch (MongoException failure) {
            throw unwritten(failure);
        }
    }

    private static DatabaseException unwritten(Exception failure) {
        return new DatabaseException("write down what is to be done", "Nothing was changed.", failure);
    }
}
