package dev.vacancy.internal.store;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.List;

/**
 * Digests what a plan would do (SHA-256, FIPS 180-4). Each part is preceded by its length, so that no two lists of parts look alike.
 *
 * @since 0.1
 */
public final class Fingerprint {
    private final MessageDigest digest;

    /** Digests nothing yet. */
    public Fingerprint() {
        try {
            digest = MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException("Every Java platform has SHA-256", missing);
        }
    }

    /**
     * Adds parts by their texts.
     *
     * @param parts the parts
     * @return this
     */
    public Fingerprint add(Object... parts) {
        for (Object part : parts) {
            byte[] bytes = String.valueOf(part).getBytes(StandardCharsets.UTF_8);
            digest.update(
                    ByteBuffer.allocate(Integer.BYTES).putInt(bytes.length).flip());
            digest.update(bytes);
        }
        return this;
    }

    /**
     * Adds a value of a record; a missing one differs from an empty one, and a number from its digits.
     *
     * @param value the value, or null
     * @return this
     */
    public Fingerprint addContent(Object value) {
        if (value instanceof ByteBuffer bytes) {
            digest.update(
                    ByteBuffer.allocate(Integer.BYTES).putInt(bytes.remaining()).flip());
            digest.update(bytes.duplicate());
            return this;
        }
        return value == null ? add("null") : add(kind(value), value);
    }

    /**
     * Adds the values of a key, each by its type: 1 and '1' can be two records of one table.
     *
     * @param key the values
     * @return this
     */
    public Fingerprint addAll(List<?> key) {
        add(key.size());
        key.forEach(value -> add(kind(value)).addContent(value));
        return this;
    }

    private static String kind(Object value) {
        return value instanceof String
                ? "text"
                : value instanceof Number ? "number" : value instanceof List<?> ? "list" : "other";
    }

    /** {@return the digest of what was added} */
    public Digest digest() {
        return Digest.of(digest.digest());
    }

    /** {@return the same in hexadecimal digits} */
    public String hex() {
        return digest().hex();
    }
}
