package dev.vacancy.documents.internal;

import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import java.nio.ByteBuffer;
import org.bson.BsonBinary;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonNull;
import org.bson.BsonString;
import org.bson.BsonValue;

/** An entry of the trail as a document, which is found by its place. */
final class EntryDocument {
    static final String RUN = "run";
    static final String STEP = "step";
    static final String PLACE = "place";
    static final String ACTION = "action";
    static final String TABLE = "table";
    static final String KEY = "key";
    static final String CONTENT = "content";
    static final String ABOUT = "about";
    static final String ERASED_BY = "erasedBy";
    static final String DIGEST = "digest";
    private static final String ALTERED = "altered";
    private static final String SEAL = "seal";

    private EntryDocument() {}

    static BsonString id(Reference reference) {
        return new BsonString(reference.run() + "/" + reference.step() + "/" + reference.place());
    }

    static BsonDocument of(StoredEntry entry) {
        return new BsonDocument(DocumentQuery.ID, id(entry.reference()))
                .append(RUN, new BsonInt64(entry.run()))
                .append(STEP, new BsonInt32(entry.step()))
                .append(PLACE, new BsonInt64(entry.place()))
                .append(ACTION, new BsonString(entry.word()))
                .append(TABLE, new BsonString(entry.table()))
                .append(KEY, RunDocument.text(entry.key()))
                .append(CONTENT, RunDocument.text(entry.content()))
                .append(ALTERED, RunDocument.text(entry.altered()))
                .append(ABOUT, entry.about() == null ? BsonNull.VALUE : reference(entry.about()))
                .append(ERASED_BY, RunDocument.whole(entry.erasedBy()))
                .append(SEAL, bytes(entry.seal()))
                .append(DIGEST, bytes(entry.digest()));
    }

    /** What an entry is about, as it stands in the entry. */
    static BsonValue reference(Reference about) {
        return new BsonDocument(RUN, new BsonInt64(about.run()))
                .append(STEP, new BsonInt32(about.step()))
                .append(PLACE, new BsonInt64(about.place()));
    }

    private static BsonBinary bytes(ByteBuffer buffer) {
        byte[] copy = new byte[buffer.remaining()];
        buffer.duplicate().get(copy);
        return new BsonBinary(copy);
    }

    static StoredEntry entry(BsonDocument document) {
        return new StoredEntry(
                reference(document),
                RunDocument.text(document, ACTION),
                RunDocument.text(document, TABLE),
                RunDocument.optional(document, KEY).orElse(null),
                RunDocument.optional(document, CONTENT).orElse(null),
                RunDocument.optional(document, ALTERED).orElse(null),
                about(document),
                RunDocument.number(document, ERASED_BY),
                buffer(document, SEAL),
                buffer(document, DIGEST));
    }

    static Reference about(BsonDocument document) {
        BsonValue about = document.get(ABOUT);
        return about == null || about.isNull() ? null : reference(about.asDocument());
    }

    static Reference reference(BsonDocument document) {
        return new Reference(
                document.getInt64(RUN).getValue(),
                document.getInt32(STEP).getValue(),
                document.getInt64(PLACE).getValue());
    }

    static ByteBuffer buffer(BsonDocument document, String field) {
        return ByteBuffer.wrap(document.getBinary(field).getData()).asReadOnlyBuffer();
    }
}
