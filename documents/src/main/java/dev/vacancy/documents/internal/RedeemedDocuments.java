package dev.vacancy.documents.internal;

import com.mongodb.ErrorCategory;
import com.mongodb.MongoException;
import com.mongodb.MongoWriteException;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Updates;
import dev.vacancy.DatabaseException;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.running.RedeemedApprovals;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.TakenApproval;
import dev.vacancy.internal.running.TakenException;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import org.bson.BsonDateTime;
import org.bson.BsonDocument;
import org.bson.BsonString;
import org.bson.BsonType;
import org.bson.conversions.Bson;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The approvals that were redeemed. One is <em>taken</em> before anything is read, as long as its process is heard of; it is <em>begun</em> once the run is written
 * down that redeems it, and the run's from there on; and it has a <em>receipt</em> when the run is done.
 *
 * @param database the database
 */
record RedeemedDocuments(MongoDatabase database) implements RedeemedApprovals {
    private static final Logger LOG = LoggerFactory.getLogger(RedeemedDocuments.class);
    private static final String COLLECTION = "vacancy_redeemed";
    private static final String RUN = "run";
    private static final String EXPIRES = "expiresAt";
    private static final String TAKEN = "takenAt";
    private static final String BEGUN = "begun";
    private static final String RECEIPT = "receipt";

    private MongoCollection<BsonDocument> collection() {
        return database.getCollection(COLLECTION, BsonDocument.class);
    }

    /** A receipt, as it is kept. */
    static BsonDocument written(StoredReceipt receipt) {
        BsonDocument written = new BsonDocument();
        receipt.texts().forEach((name, text) -> written.append(name, new BsonString(text)));
        return written;
    }

    /** The receipt that was kept. */
    static StoredReceipt read(BsonDocument written) {
        return StoredReceipt.read(name -> RunDocument.text(written, name));
    }

    /** The collection is made as the first approval is taken. */
    @Override
    public void require() {
        // A server makes it by itself.
    }

    @Override
    public Optional<StoredReceipt> find(String approval) {
        return answered(() ->
                Optional.ofNullable(collection().find(of(approval)).first()).flatMap(this::receipt));
    }

    /** A bulk run that has begun has the receipt as well, should its process have ended before it was kept here. */
    private Optional<StoredReceipt> receipt(BsonDocument found) {
        return found.containsKey(RECEIPT)
                ? Optional.of(read(found.getDocument(RECEIPT)))
                : new BulkDocuments(database).receipt(ChunkDocument.id(found.get(RUN)));
    }

    @Override
    public void forget(Instant expiredBefore) {
        Bson old = Filters.lt(EXPIRES, new BsonDateTime(expiredBefore.toEpochMilli()));
        answered(() -> collection().deleteMany(Filters.and(old, Filters.type(RUN, BsonType.BINARY))));
    }

    private static <T> T answered(Supplier<T> work) {
        try {
            return work.get();
        } catch (MongoException failure) {
            throw new DatabaseException("read which approvals were redeemed", "Nothing was changed.", failure);
        }
    }

    /**
     * Takes an approval.
     *
     * @param redeeming the approval
     * @param run the run that it is for
     * @param now tells the time
     * @return the approval, to be given back
     * @throws TakenException when somebody else has it
     */
    TakenApproval take(Redeeming redeeming, UUID run, Supplier<Instant> now) {
        String approval = redeeming.approval();
        BsonDocument taken = new BsonDocument(DocumentQuery.ID, new BsonString(approval))
                .append(RUN, ChunkDocument.id(run))
                .append(EXPIRES, new BsonDateTime(redeeming.expiresAt().toEpochMilli()))
                .append(TAKEN, new BsonDateTime(now.get().toEpochMilli()));
        answered(() -> {
            forgetGivenUp(approval, now.get());
            return insert(taken);
        });
        Heartbeat beating = Heartbeat.begin(
                Intention.GIVEN_UP.dividedBy(4),
                () -> collection()
                        .updateOne(
                                isOf(approval, run),
                                Updates.set(TAKEN, new BsonDateTime(now.get().toEpochMilli()))));
        return new Holding(this, approval, run, beating);
    }

    /** Of a process that isn't heard of any more the run may be under way, which whoever finishes it says; otherwise it has begun if it is a bulk run that is there. */
    private void forgetGivenUp(String approval, Instant now) {
        BsonDateTime longAgo = new BsonDateTime(now.minus(Intention.GIVEN_UP).toEpochMilli());
        BsonDocument found = collection()
                .find(Filters.and(of(approval), Filters.lt(TAKEN, longAgo), isWithout(RECEIPT)))
                .first();
        if (found == null) {
            return;
        }
        UUID run = ChunkDocument.id(found.get(RUN));
        if (Intention.open(database).contains(run)) {
            return;
        }
        Optional<StoredReceipt> begun = new BulkDocuments(database).fence(run);
        if (begun.isPresent()) {
            keep(run, new Redeemed(approval, begun.get()));
        } else {
            giveBack(approval, run);
        }
    }

    private String insert(BsonDocument taken) {
        try {
            collection().insertOne(taken);
            return COLLECTION;
        } catch (MongoWriteException refused) {
            if (refused.getError().getCategory() == ErrorCategory.DUPLICATE_KEY) {
                throw new TakenException(true, LockFailures.ofConflict("the approval", refused));
            }
            throw refused;
        }
    }

    /** An approval that is taken as long as this process holds it. */
    private static final class Holding extends TakenApproval {
        private final RedeemedDocuments documents;
        private final Heartbeat beating;

        Holding(RedeemedDocuments documents, String approval, UUID run, Heartbeat beating) {
            super(approval, run);
            this.documents = documents;
            this.beating = beating;
        }

        /** What has begun is the run's, and it may not be over. */
        @Override
        public void close() {
            beating.end();
            try {
                documents
                        .collection()
                        .deleteOne(Filters.and(isOf(approval(), run()), isWithout(BEGUN), isWithout(RECEIPT)));
            } catch (MongoException silent) {
                LOG.debug("An approval couldn't be given back", silent);
            }
        }
    }

    /** Says that the run has begun that it is for; returns false if it is for another one by now. */
    boolean begin(String approval, UUID run) {
        return collection()
                        .updateOne(isOf(approval, run), Updates.set(BEGUN, true))
                        .getMatchedCount()
                == 1;
    }

    /** Keeps what came of it. */
    void keep(UUID run, Redeemed redeemed) {
        collection().updateOne(isOf(redeemed.approval(), run), Updates.set(RECEIPT, written(redeemed.receipt())));
    }

    /** Gives it back, as nothing has come of its run. */
    void giveBack(String approval, UUID run) {
        collection().deleteOne(Filters.and(isOf(approval, run), isWithout(RECEIPT)));
    }

    private static Bson isWithout(String field) {
        return Filters.exists(field, false);
    }

    private static Bson of(String approval) {
        return Filters.eq(DocumentQuery.ID, new BsonString(approval));
    }

    private static Bson isOf(String approval, UUID run) {
        return Filters.and(of(approval), Filters.eq(RUN, ChunkDocument.id(run)));
    }
}
