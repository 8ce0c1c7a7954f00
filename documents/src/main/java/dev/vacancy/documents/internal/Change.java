package dev.vacancy.documents.internal;

import com.mongodb.MongoBulkWriteException;
import com.mongodb.bulk.BulkWriteError;
import com.mongodb.bulk.BulkWriteResult;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.BulkWriteOptions;
import com.mongodb.client.model.DeleteOneModel;
import com.mongodb.client.model.InsertOneModel;
import com.mongodb.client.model.UpdateOneModel;
import com.mongodb.client.model.WriteModel;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.bson.BsonBoolean;
import org.bson.BsonDocument;
import org.bson.BsonString;
import org.bson.BsonType;
import org.bson.BsonValue;

/**
 * What is to become of one document, as it is written down before. A change is only made to a document that is as it was, and only taken back of one
 * that is as the change has left it.
 *
 * @param kind what becomes of it
 * @param collection the name of its collection
 * @param id its id
 * @param before the fields that matter, as they were; all of a document that goes, none of one that comes back
 * @param after the same fields as they are to be; none of a document that goes, all of one that comes back
 */
record Change(Kind kind, String collection, BsonValue id, BsonDocument before, BsonDocument after) {
    /** What becomes of a document. */
    enum Kind {
        DELETION,
        UPDATE,
        INSERTION
    }

    /** The field by which a document is a run's as long as that goes on. */
    static final String CLAIM = "vacancy_run";

    private static final String ID = DocumentQuery.ID;

    /** What servers refuse to compare, or take for a pattern. */
    private static final Set<BsonType> NOT_COMPARED = Set.of(BsonType.UNDEFINED, BsonType.REGULAR_EXPRESSION);

    /** A document goes. */
    static Change deletion(String collection, BsonDocument document) {
        return new Change(Kind.DELETION, collection, document.get(ID), document, new BsonDocument());
    }

    /** A document comes back. */
    static Change insertion(String collection, BsonDocument document) {
        return new Change(Kind.INSERTION, collection, document.get(ID), new BsonDocument(), document);
    }

    /** Fields of a document get other values. */
    static Change update(String collection, BsonDocument document, BsonDocument changed) {
        BsonDocument before = new BsonDocument();
        BsonDocument after = new BsonDocument();
        Set<String> names = new LinkedHashSet<>(document.keySet());
        names.addAll(changed.keySet());
        for (String name : names) {
            BsonValue was = document.get(name);
            BsonValue is = changed.get(name);
            if (was == null ? is != null : !was.equals(is)) {
                Paths.put(before, name, was);
                Paths.put(after, name, is);
            }
        }
        return new Change(Kind.UPDATE, collection, document.get(ID), before, after);
    }

    /** Whether nothing is to be done. */
    boolean isEmpty() {
        return kind == Kind.UPDATE && before.isEmpty() && after.isEmpty();
    }

    /** Changes the document, if it is still as it was and no run's. */
    WriteModel<BsonDocument> made() {
        if (kind == Kind.INSERTION) {
            return new InsertOneModel<>(after);
        }
        BsonDocument free = guard(before, after).append(CLAIM, new BsonDocument("$exists", BsonBoolean.FALSE));
        return kind == Kind.DELETION ? new DeleteOneModel<>(free) : new UpdateOneModel<>(free, setting(before, after));
    }

    /** Changes the document of a run, if it is still as it was; one that comes back is marked as the run's, so that it is known as such. */
    WriteModel<BsonDocument> made(BsonValue run) {
        if (kind == Kind.INSERTION) {
            return new InsertOneModel<>(after.clone().append(CLAIM, run));
        }
        BsonDocument ours = guard(before, after).append(CLAIM, new BsonDocument("$eq", run));
        return kind == Kind.DELETION
                ? new DeleteOneModel<>(ours)
                : new UpdateOneModel<>(ours, unclaiming(setting(before, after)));
    }

    private static BsonDocument unclaiming(BsonDocument setting) {
        setting.putIfAbsent("$unset", new BsonDocument());
        setting.getDocument("$unset").append(CLAIM, new BsonString(""));
        return setting;
    }

    /** Gives the document the values back that it had, if it has those that it was given. */
    WriteModel<BsonDocument> takenBack() {
        return new UpdateOneModel<>(guard(after, before), setting(after, before));
    }

    /** A document without the mark of a run. */
    static BsonDocument unmarked(BsonDocument document) {
        document.remove(CLAIM);
        return document;
    }

    /** Picks the document if it is as it was, and has nothing in the fields that it is to get. */
    private BsonDocument guard(BsonDocument as, BsonDocument to) {
        // An embedded document could be taken for an operator; any other id is found by itself, on each server by its
        // index.
        BsonDocument guard = new BsonDocument(ID, id.isDocument() ? new BsonDocument("$eq", id) : id);
        as.forEach((name, value) -> {
            if (!name.equals(ID) && Paths.isAddressed(name) && !NOT_COMPARED.contains(value.getBsonType())) {
                guard.append(name, exactly(value));
            }
        });
        to.keySet().stream()
                .filter(name -> !as.containsKey(name))
                .forEach(name -> guard.append(name, new BsonDocument("$exists", BsonBoolean.FALSE)));
        return guard;
    }

    /** A missing field is no null, though it is found like one. */
    private static BsonDocument exactly(BsonValue value) {
        BsonDocument exactly = new BsonDocument("$eq", value);
        return value.isNull() ? exactly.append("$exists", BsonBoolean.TRUE) : exactly;
    }

    private static BsonDocument setting(BsonDocument from, BsonDocument to) {
        BsonDocument set = new BsonDocument();
        to.forEach(set::append);
        BsonDocument unset = new BsonDocument();
        from.keySet().stream()
                .filter(name -> !to.containsKey(name))
                .forEach(name -> unset.append(name, new BsonString("")));
        BsonDocument setting = new BsonDocument();
        if (!set.isEmpty()) {
            setting.append("$set", set);
        }
        if (!unset.isEmpty()) {
            setting.append("$unset", unset);
        }
        return setting;
    }

    /**
     * Has the server make some changes that are alike.
     *
     * @param database where
     * @param alike the changes
     * @param model what is asked of the server for each
     * @return how many it has made
     * @throws MongoBulkWriteException when it refuses one
     */
    static long make(MongoDatabase database, List<Change> alike, Function<Change, WriteModel<BsonDocument>> model) {
        BulkWriteResult result = database.getCollection(alike.get(0).collection, BsonDocument.class)
                .bulkWrite(alike.stream().map(model).toList(), new BulkWriteOptions().ordered(false));
        return (long) result.getDeletedCount() + result.getMatchedCount() + result.getInsertedCount();
    }

    /** What the server says of a change that it doesn't take, as by a unique index or a validator; empty if it failed otherwise. */
    static Optional<String> refusal(MongoBulkWriteException failure) {
        return failure.getWriteErrors().stream().map(BulkWriteError::getMessage).findFirst();
    }

    /** The change as it is written down. */
    BsonDocument written() {
        return new BsonDocument("kind", new BsonString(kind.name().toLowerCase(Locale.ROOT)))
                .append("collection", new BsonString(collection))
                .append("id", id)
                .append("before", before)
                .append("after", after);
    }

    /** Reads what was written down. */
    static Change read(BsonDocument written) {
        return new Change(
                Kind.valueOf(written.getString("kind").getValue().toUpperCase(Locale.ROOT)),
                written.getString("collection").getValue(),
                written.get("id"),
                written.getDocument("before"),
                written.getDocument("after"));
    }

    /** Cuts changes where the collection or the kind of change is another. */
    static List<List<Change>> alike(List<Change> changes) {
        List<List<Change>> alike = new ArrayList<>();
        for (Change change : changes) {
            Optional<Change> last = alike.isEmpty()
                    ? Optional.empty()
                    : Optional.of(alike.get(alike.size() - 1).get(0));
            boolean same = last.isPresent()
                    && last.get().collection.equals(change.collection)
                    && last.get().kind == change.kind;
            if (!same) {
                alike.add(new ArrayList<>());
            }
            alike.get(alike.size() - 1).add(change);
        }
        return alike;
    }
}
