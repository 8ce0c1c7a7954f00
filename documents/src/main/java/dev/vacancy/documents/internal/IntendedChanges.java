package dev.vacancy.documents.internal;

import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.stream.LongStream;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonString;
import org.bson.RawBsonDocument;
import org.bson.codecs.BsonDocumentCodec;

/**
 * The changes that a run means to make, as they are written down: many to a page, each page a document that is found by its id. So a server needs no
 * index of ours, and the number of statements goes by pages.
 */
final class IntendedChanges {
    static final String COLLECTION = "vacancy_intended_change";

    /** No page holds more changes. */
    private static final int MOST = 1_000;

    /** Bytes after which a page is full; a server takes 16 MiB. */
    private static final int FULL = 1 << 20;

    private static final BsonDocumentCodec CODEC = new BsonDocumentCodec();

    private final MongoDatabase database;
    private final UUID run;
    private final List<BsonDocument> unwritten = new ArrayList<>();
    private int size;
    private long pages;

    /**
     * The changes of a run.
     *
     * @param database the database
     * @param run the run
     * @param pages how many pages there are
     */
    IntendedChanges(MongoDatabase database, UUID run, long pages) {
        this.database = database;
        this.run = run;
        this.pages = pages;
    }

    /** How many pages are written. */
    long pages() {
        return pages;
    }

    /** Adds a change; returns whether a page was written with it. */
    boolean add(Change change) {
        RawBsonDocument written = new RawBsonDocument(change.written(), CODEC);
        boolean full = !unwritten.isEmpty()
                && (unwritten.size() == MOST || size + written.getByteBuffer().remaining() > FULL);
        if (full) {
            flush();
        }
        unwritten.add(written);
        size += written.getByteBuffer().remaining();
        return full;
    }

    /** Writes down what isn't yet; returns whether that was anything. */
    boolean flush() {
        if (unwritten.isEmpty()) {
            return false;
        }
        collection()
                .insertOne(
                        new BsonDocument(DocumentQuery.ID, key(pages + 1)).append("changes", new BsonArray(unwritten)));
        pages++;
        unwritten.clear();
        size = 0;
        return true;
    }

    /** The changes on a page, of which the first has the number 1, in their order. */
    List<Change> page(long number) {
        BsonDocument page =
                collection().find(Filters.eq(DocumentQuery.ID, key(number))).first();
        return page == null
                ? List.of()
                : page.getArray("changes").stream()
                        .map(change -> Change.read(change.asDocument()))
                        .toList();
    }

    /** Forgets them all, and a page of which a process that ended could tell no more that it is there. */
    void forget() {
        List<BsonString> keys =
                LongStream.rangeClosed(1, pages + 1).mapToObj(this::key).toList();
        Portions.of(keys).forEach(some -> collection().deleteMany(Filters.in(DocumentQuery.ID, some)));
    }

    private BsonString key(long number) {
        return new BsonString(run + "/" + number);
    }

    private MongoCollection<BsonDocument> collection() {
        return database.getCollection(COLLECTION, BsonDocument.class);
    }
}
