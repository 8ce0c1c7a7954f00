package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Dialect;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.List;

/**
 * Digests fields one by one, each behind its length in characters (code points), so that nothing can move from one to the next and
 * what isn't there differs from what is empty. SHA-256 (FIPS 180-4) over UTF-8.
 */
final class FramedDigest {
    private static final String ABSENT = "-";

    private final MessageDigest digest = Chain.sha256();

    /** Adds bytes of a fixed length. */
    FramedDigest bytes(ByteBuffer bytes) {
        digest.update(bytes.duplicate());
        return this;
    }

    /** Adds a field. */
    FramedDigest field(String text) {
        digest.update(framed(text).getBytes(StandardCharsets.UTF_8));
        return this;
    }

    /** Adds text that frames itself. */
    FramedDigest plain(String text) {
        digest.update(text.getBytes(StandardCharsets.UTF_8));
        return this;
    }

    /** A field as it is digested; {@code null} for one that isn't there. */
    static String framed(String text) {
        return text == null ? ABSENT : text.codePointCount(0, text.length()) + ":" + text;
    }

    /** Says the same of a text of the database's, never null, in its own words. */
    static String framed(String text, Dialect dialect) {
        return dialect.concatenated(List.of("char_length(" + text + ")", "':'", text));
    }

    ByteBuffer end() {
        return ByteBuffer.wrap(digest.digest()).asReadOnlyBuffer();
    }
}
