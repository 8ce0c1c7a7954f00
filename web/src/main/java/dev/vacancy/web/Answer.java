package dev.vacancy.web;

import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What a request is answered with.
 *
 * @param status the status code
 * @param body what is written as JSON, or nothing
 * @param headers further header fields
 */
record Answer(int status, Optional<Object> body, Map<String, String> headers) {
    static Answer ok(Object body) {
        return new Answer(HttpServletResponse.SC_OK, Optional.of(body), Map.of());
    }

    /** All was written already. */
    static Answer told() {
        return new Answer(HttpServletResponse.SC_OK, Optional.empty(), Map.of());
    }

    static Answer nothing() {
        return new Answer(HttpServletResponse.SC_NO_CONTENT, Optional.empty(), Map.of());
    }

    Answer as(int other) {
        return new Answer(other, body, headers);
    }

    Answer with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new Answer(status, body, more);
    }

    Answer tagged(String fingerprint) {
        return with("ETag", tag(fingerprint)).with(Exchange.FINGERPRINT, fingerprint);
    }

    /** A strong entity tag (RFC 9110, section 8.8.3). */
    static String tag(String fingerprint) {
        return '"' + fingerprint + '"';
    }
}
