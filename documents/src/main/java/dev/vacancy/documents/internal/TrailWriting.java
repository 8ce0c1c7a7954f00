package dev.vacancy.documents.internal;

import com.mongodb.ErrorCategory;
import com.mongodb.MongoWriteException;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.IndexOptions;
import com.mongodb.client.model.Indexes;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Sorts;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.PrunedRun;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import java.util.function.Consumer;
import org.bson.BsonDocument;
import org.bson.conversions.Bson;

/**
 * Writes into a trail. A run is written behind all others by taking the next place, which a server gives to one only.
 *
 * @param trail the trail
 */
record TrailWriting(DocumentTrail trail) {
    /** Whether the collections are those of a trail, or empty. */
    boolean isOurs() {
        return isOf(trail.runs(), RunDocument.ENTRIES) && isOf(trail.entries(), EntryDocument.DIGEST);
    }

    private static boolean isOf(MongoCollection<BsonDocument> collection, String field) {
        BsonDocument any = collection.find(Filters.ne(DocumentQuery.ID, 0L)).first();
        return any == null || any.containsKey(field);
    }

    /**
     * Makes the indexes and the beginning of the chain where they aren't there.
     *
     * @param first takes the runs that were pruned and are still there
     */
    void setUp(Consumer<List<StoredRun>> first) {
        trail.runs().createIndex(Indexes.ascending(RunDocument.NUMBER), new IndexOptions().unique(true));
        trail.runs().createIndex(Indexes.ascending(RunDocument.RUN));
        trail.entries().createIndex(Indexes.ascending(EntryDocument.RUN, EntryDocument.STEP, EntryDocument.PLACE));
        trail.entries().createIndex(Indexes.ascending(EntryDocument.TABLE, EntryDocument.KEY));
        if (trail.runs().countDocuments(Filters.eq(DocumentQuery.ID, 0L)) == 0) {
            insert(DocumentTrail.BEGINNING);
        }
        forgetPruned(first);
    }

    /** Puts a document among the runs; returns false if its place, or its number, is taken. */
    private boolean insert(BsonDocument document) {
        try {
            trail.runs().insertOne(document);
            return true;
        } catch (MongoWriteException failure) {
            if (failure.getError().getCategory() == ErrorCategory.DUPLICATE_KEY) {
                return false;
            }
            throw failure;
        }
    }

    /** Writes a run down behind all others, once. Its entries are there already. */
    void append(RunFacts facts) {
        long number = RunNumber.of(facts.runId());
        MessageDigest digests = Chain.sha256();
        long count = 0;
        for (BsonDocument entry : trail.entriesWhere(Filters.eq(EntryDocument.RUN, number))
                .projection(Projections.include(EntryDocument.DIGEST))) {
            digests.update(EntryDocument.buffer(entry, EntryDocument.DIGEST));
            count++;
        }
        String digest = HexFormat.of().formatHex(digests.digest());
        while (trail.run(number).isEmpty()) {
            BsonDocument last =
                    trail.runs().find().sort(Sorts.descending(DocumentQuery.ID)).first();
            long place = last == null ? 0 : last.getInt64(DocumentQuery.ID).getValue();
            String previous = place == 0 ? TrailTables.NOTHING : RunDocument.text(last, RunDocument.DIGEST);
            insert(RunDocument.of(StoredRun.following(place + 1, previous, facts, count, digest)));
        }
    }

    /**
     * Removes what is left of runs of which the trail says that they were removed.
     *
     * @param first takes them before, if there are some
     */
    void forgetPruned(Consumer<List<StoredRun>> first) {
        long until = trail.lastPruning()
                .map(run -> PrunedRun.of(run.facts().selection()).place())
                .orElse(0L);
        if (until == 0) {
            return;
        }
        Bson pruned = Filters.and(Filters.gt(DocumentQuery.ID, 0L), Filters.lte(DocumentQuery.ID, until));
        List<StoredRun> old = new ArrayList<>();
        trail.runs()
                .find(pruned)
                .sort(Sorts.descending(DocumentQuery.ID))
                .forEach(run -> old.add(RunDocument.run(run)));
        if (!old.isEmpty()) {
            first.accept(old);
        }
        for (StoredRun run : old) {
            trail.entries().deleteMany(Filters.eq(EntryDocument.RUN, run.number()));
            trail.runs().deleteOne(Filters.eq(DocumentQuery.ID, run.place()));
        }
    }

    /** Writes entries down. */
    void insert(List<BsonDocument> written) {
        trail.entries().insertMany(written);
    }

    /** Forgets the entries of a run that never was. */
    void withdraw(UUID run) {
        trail.entries().deleteMany(Filters.eq(EntryDocument.RUN, RunNumber.of(run)));
    }
}
