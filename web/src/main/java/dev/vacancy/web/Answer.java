package dev.vacancy.web;

import jakarta.servlet.http.HttpServletResponse;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What a request is answered with.
 *
 * @param status the status code
 * @param body what is written as JSON, or nothing
 * @param headers further header fields
 * @param fingerprint of the plan that is told; the entity tag begins with it
 */
record Answer(int status, Optional<Object> body, Map<String, String> headers, Optional<String> fingerprint) {
    private static final char TAG_PARTS = '.';
    private static final int DIGEST_BYTES = 8;

    static Answer ok(Object body) {
        return new Answer(HttpServletResponse.SC_OK, Optional.of(body), Map.of(), Optional.empty());
    }

    /** All was written already. */
    static Answer sent() {
        return new Answer(HttpServletResponse.SC_OK, Optional.empty(), Map.of(), Optional.empty());
    }

    static Answer nothing() {
        return new Answer(HttpServletResponse.SC_NO_CONTENT, Optional.empty(), Map.of(), Optional.empty());
    }

    Answer as(int other) {
        return new Answer(other, body, headers, fingerprint);
    }

    Answer with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new Answer(status, body, more, fingerprint);
    }

    Answer tagged(String of) {
        return new Answer(status, body, headers, Optional.of(of)).with(Exchange.FINGERPRINT, of);
    }

    /**
     * A strong entity tag (RFC 9110, section 8.8.3): the fingerprint, by which a plan is agreed to, and a digest of what it is told with, which
     * differs by language and by who asks.
     */
    static String tag(String fingerprint, byte[] content) {
        return '"' + fingerprint + TAG_PARTS + digest(content) + '"';
    }

    /** The fingerprint in a tag. */
    static String fingerprint(String tag) {
        int end = tag.indexOf(TAG_PARTS);
        return end < 0 ? tag : tag.substring(0, end);
    }

    private static String digest(byte[] content) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(content);
            return HexFormat.of().formatHex(digest, 0, DIGEST_BYTES);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }
}
