package dev.vacancy.documents.internal;

import java.nio.ByteBuffer;
import java.util.Base64;
import org.bson.BsonBinaryReader;
import org.bson.BsonDocument;
import org.bson.RawBsonDocument;
import org.bson.codecs.BsonDocumentCodec;
import org.bson.codecs.DecoderContext;
import org.bson.json.JsonMode;
import org.bson.json.JsonWriterSettings;

/**
 * A document as a text that has all of it: canonical Extended JSON (version 2), or where that would be read as something else, as of a field whose
 * name looks like a type, its bytes in Base64 (RFC 4648) between quotation marks.
 */
final class ContentText {
    private static final JsonWriterSettings CANONICAL =
            JsonWriterSettings.builder().outputMode(JsonMode.EXTENDED).build();
    private static final BsonDocumentCodec CODEC = new BsonDocumentCodec();
    private static final String QUOTE = "\"";

    private ContentText() {}

    static String of(BsonDocument document) {
        String json = document.toJson(CANONICAL);
        try {
            if (bytes(BsonDocument.parse(json)).equals(bytes(document))) {
                return json;
            }
        } catch (RuntimeException unreadable) {
            // It isn't read as it was, so the bytes are kept.
        }
        ByteBuffer bytes = bytes(document);
        byte[] copy = new byte[bytes.remaining()];
        bytes.get(copy);
        return QUOTE + Base64.getEncoder().encodeToString(copy) + QUOTE;
    }

    private static ByteBuffer bytes(BsonDocument document) {
        return new RawBsonDocument(document, CODEC).getByteBuffer().asNIO();
    }

    static BsonDocument read(String text) {
        if (!text.startsWith(QUOTE)) {
            return BsonDocument.parse(text);
        }
        byte[] bytes = Base64.getDecoder().decode(text.substring(1, text.length() - 1));
        return CODEC.decode(
                new BsonBinaryReader(ByteBuffer.wrap(bytes)),
                DecoderContext.builder().build());
    }
}
