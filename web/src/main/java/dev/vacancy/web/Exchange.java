package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Selection;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.json.JsonMapper;

/**
 * A request, and who sends it.
 *
 * @param request as it came
 * @param response for what is written bit by bit
 * @param path the segments of its path, each decoded
 * @param by who sends it
 */
record Exchange(HttpServletRequest request, HttpServletResponse response, List<String> path, By by) {
    /** The fingerprint of what was agreed to, for whoever is behind a proxy that changes entity tags. */
    static final String FINGERPRINT = "Vacancy-Fingerprint";

    /** What was answered to a question that wants more than a yes, percent-encoded (RFC 3986, section 2.1). */
    static final String ANSWER = "Vacancy-Answer";

    /** No number is rounded on its way in, no member may stand twice, and none is written that a reader would round (RFC 7493, section 2.2). */
    static final JsonMapper JSON = JsonMapper.builder()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .addModule(SafeNumbers.module())
            .build();

    static final TypeReference<Map<String, Object>> OBJECT = new TypeReference<>() {};

    /** Why it is asked for, percent-encoded likewise; in content the member {@code reason} says the same. */
    static final String REASON = "Vacancy-Reason";

    private static final int MOST_BYTES = 1_000_000;
    private static final int HTTP_PORT = 80;
    private static final int HTTPS_PORT = 443;

    /** What the request says was agreed to. */
    AgreedFingerprints agreed() {
        return AgreedFingerprints.of(request);
    }

    /** What was answered, where the content doesn't say. */
    Optional<String> answer() {
        return encoded(request, ANSWER);
    }

    /** The same request with the reason that it gives, if it gives one; otherwise whoever says who sends it has said why. */
    Exchange because() {
        return encoded(request, REASON).map(this::because).orElse(this);
    }

    /** The same with the reason that stands in its content. */
    Exchange because(Map<String, Object> body) {
        Object reason = body.get("reason");
        if (reason != null && !(reason instanceof String)) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "The reason in the content is no text.",
                    "Send {\"reason\": \"…\"}, or leave it out.");
        }
        return reason == null ? this : because((String) reason);
    }

    private Exchange because(String reason) {
        return new Exchange(request, response, path, by.because(reason));
    }

    private static Optional<String> encoded(HttpServletRequest request, String field) {
        return Optional.ofNullable(request.getHeader(field)).map(text -> {
            try {
                return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
            } catch (IllegalArgumentException wrong) {
                throw Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        field + " isn't percent-encoded.",
                        "Encode it as UTF-8 in percent-encoding (RFC 3986, section 2.1).");
            }
        });
    }

    /** Whether what happened is to be told (RFC 7240, section 4.2). */
    boolean prefersRepresentation() {
        return HeaderFields.preference(request, "return")
                .filter("representation"::equalsIgnoreCase)
                .isPresent();
    }

    static List<Locale> languages(HttpServletRequest request) {
        return request.getHeader("Accept-Language") == null ? List.of() : Collections.list(request.getLocales());
    }

    /** The address of something below the servlet. */
    String address(String... segments) {
        String mount = Arrays.stream(request.getServletPath().split("/", -1))
                .map(Exchange::encoded)
                .collect(Collectors.joining("/"));
        return request.getContextPath() + mount + "/"
                + Arrays.stream(segments).map(Exchange::encoded).collect(Collectors.joining("/"));
    }

    /** What belongs to a deletion and to its plan alike. */
    Selection manner(Selection asked) {
        Selection selection = isTrue("hard") ? asked.hard() : asked;
        selection = isTrue("skip-blocked") ? selection.skippingBlocked() : selection;
        Optional<Long> expected = number("expect");
        selection = expected.isPresent() ? selection.expecting(expected.get()) : selection;
        Optional<Long> most = number("at-most");
        selection = most.isPresent() ? selection.atMost(most.get()) : selection;
        for (String given :
                Optional.ofNullable(request.getParameterValues("reassign")).orElse(new String[0])) {
            int point = given.indexOf('=');
            if (point < 1) {
                throw Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "'" + given + "' doesn't say who takes over the children on which link.",
                        "Write reassign=inspection.keeper_id=7.");
            }
            Object[] key = given.substring(point + 1).split(",", -1);
            selection = selection.reassigning(given.substring(0, point), key);
        }
        return selection;
    }

    /** Whether a parameter of the query says so; what is neither yes nor no is refused, lest something else happen than was meant. */
    private boolean isTrue(String name) {
        String given = request.getParameter(name);
        if (given != null && !given.equals("true") && !given.equals("false")) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "The parameter " + name + " is neither true nor false.",
                    "Write " + name + "=true, or leave it out.");
        }
        return "true".equals(given);
    }

    /** The number that a parameter of the query gives, if it is there. */
    Optional<Long> number(String name) {
        return Optional.ofNullable(request.getParameter(name)).map(given -> {
            try {
                return Long.valueOf(given);
            } catch (NumberFormatException wrong) {
                throw Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "The parameter " + name + " is no whole number.",
                        "Write " + name + "=20, or leave it out.");
            }
        });
    }

    /** A form of another site can't send this type, nor a script without asking first. */
    Map<String, Object> body() throws IOException {
        return body(content());
    }

    /** The same where there needn't be any content. */
    Map<String, Object> bodyIfAny() throws IOException {
        byte[] bytes = content();
        return bytes.length == 0 ? Map.of() : body(bytes);
    }

    private byte[] content() throws IOException {
        byte[] bytes = request.getInputStream().readNBytes(MOST_BYTES + 1);
        if (bytes.length > MOST_BYTES) {
            throw Problem.tooLarge(MOST_BYTES);
        }
        return bytes;
    }

    private Map<String, Object> body(byte[] bytes) {
        if (!String.valueOf(request.getContentType())
                .replaceAll(";.*", "")
                .strip()
                .equals("application/json")) {
            throw Problem.of(
                            HttpServletResponse.SC_UNSUPPORTED_MEDIA_TYPE,
                            "usage",
                            "The content isn't said to be JSON.",
                            "Send it with Content-Type: application/json.")
                    .with("Accept", "application/json");
        }
        try {
            Map<String, Object> body = JSON.readValue(bytes, OBJECT);
            if (body == null) {
                throw noObject("it is null");
            }
            return body;
        } catch (JacksonException wrong) {
            throw noObject(wrong.getOriginalMessage());
        }
    }

    private static Problem.Raised noObject(String why) {
        return Problem.of(
                HttpServletResponse.SC_BAD_REQUEST,
                "usage",
                "The content is no JSON object: " + why.lines().findFirst().orElse("") + ".",
                "Send one, such as {\"keys\": [12, 13]}.");
    }

    /** What is changed is changed for pages of this site only, as far as a browser tells. */
    void requireOwnSite() {
        String site = request.getHeader("Sec-Fetch-Site");
        boolean own = site == null
                ? isOwn(request.getHeader("Origin"))
                : List.of("same-origin", "none").contains(site);
        if (!own) {
            throw Problem.of(
                    HttpServletResponse.SC_FORBIDDEN,
                    "cross-site",
                    "This request comes from a page of another site.",
                    "Send it from a page of this one.");
        }
    }

    private boolean isOwn(String origin) {
        if (origin == null) {
            return true;
        }
        try {
            // The container knows what it is called outside, where a proxy stands before it and it is told to believe
            // that one.
            URI page = URI.create(origin);
            return request.getScheme().equalsIgnoreCase(page.getScheme())
                    && request.getServerName().equalsIgnoreCase(page.getHost())
                    && request.getServerPort() == port(page);
        } catch (IllegalArgumentException wrong) {
            return false;
        }
    }

    private static int port(URI page) {
        if (page.getPort() >= 0) {
            return page.getPort();
        }
        return "https".equalsIgnoreCase(page.getScheme()) ? HTTPS_PORT : HTTP_PORT;
    }

    /** Refuses a query that is no text before anybody asks for a part of it, where each container fails in a way of its own. */
    static void requireQuery(HttpServletRequest request) {
        if (request.getQueryString() == null) {
            return;
        }
        try {
            request.getParameterMap();
        } catch (RuntimeException unreadable) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "The query of the address isn't text in UTF-8, percent-encoded.",
                    "Encode it as UTF-8 in percent-encoding (RFC 3986, section 2.1).");
        }
    }

    /** The segments of the path, each decoded by itself, so that a slash in a key is a part of it. */
    static List<String> path(HttpServletRequest request) {
        return segments(request).stream().map(Exchange::decoded).toList();
    }

    /**
     * The segments behind the servlet's own, as they came, without parameters (RFC 3986, section 3.3). The container tells the mount decoded and
     * the address not; they have as many segments.
     */
    private static List<String> segments(HttpServletRequest request) {
        long mount = (request.getContextPath() + request.getServletPath())
                .chars()
                .filter(letter -> letter == '/')
                .count();
        return Arrays.stream(request.getRequestURI().split("/", -1))
                .skip(mount + 1)
                .map(segment -> segment.replaceAll(";.*", ""))
                .filter(segment -> !segment.isEmpty())
                .toList();
    }

    /**
     * The key that the second segment says, one value for each column, with commas between them; or, where that is a hyphen, what the query says:
     * {@code ?key=…} for each column, for values that no path carries.
     */
    List<String> key(int columns) {
        String[] given = request.getParameterValues("key");
        if (path.get(1).equals("-") && given != null) {
            return List.of(given);
        }
        return columns == 1
                ? List.of(path.get(1))
                : Arrays.stream(segments(request).get(1).split(",", -1))
                        .map(Exchange::decoded)
                        .toList();
    }

    private static String encoded(String segment) {
        return URLEncoder.encode(segment, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private static String decoded(String segment) {
        try {
            return URLDecoder.decode(segment.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException wrong) {
            throw Problem.notFound();
        }
    }

    /** Whatever isn't the number of anything isn't there. */
    static UUID id(String text) {
        try {
            return UUID.fromString(text);
        } catch (IllegalArgumentException none) {
            throw Problem.notFound();
        }
    }
}
