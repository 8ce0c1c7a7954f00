package dev.vacancy.web;

import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What tests read from responses and write into requests. */
final class Responses {
    private Responses() {}

    static JsonNode json(HttpResponse<String> response) {
        return JsonMapper.shared().readTree(response.body());
    }

    static String tag(HttpResponse<String> response) {
        return header(response, "ETag");
    }

    static String fingerprint(HttpResponse<String> response) {
        return header(response, "Vacancy-Fingerprint");
    }

    static String location(HttpResponse<String> response) {
        return header(response, "Location");
    }

    private static String header(HttpResponse<String> response, String name) {
        return response.headers().firstValue(name).orElseThrow();
    }

    /** Percent-encoded (RFC 3986, section 2.1). */
    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }
}
