package dev.vacancy.web;

import jakarta.servlet.http.HttpServletResponse;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/**
 * A part of a long list, as the parameters {@code limit} and {@code offset} ask for it. That there is more, and where, is told by a header field
 * (RFC 8288).
 *
 * @param limit how many at most, 1 to 1,000
 * @param offset how many come before
 */
record Page(int limit, int offset) {
    private static final int MOST = 1_000;
    private static final String LIMIT = "limit";
    private static final String OFFSET = "offset";

    static Page of(Exchange exchange) {
        long limit = exchange.number(LIMIT).orElse((long) MOST);
        long offset = exchange.number(OFFSET).orElse(0L);
        if (limit < 1 || limit > MOST || offset < 0 || offset > Integer.MAX_VALUE - MOST) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "There is no part of a list of " + limit + " from " + offset + " on.",
                    "Ask for 1 to 1,000, from 0 on.");
        }
        return new Page((int) limit, (int) offset);
    }

    /** One more than is told says whether there is more. */
    int wanted() {
        return limit + 1;
    }

    /** Tells what was found, of which there is one more than is told if there is more. */
    <T> Answer of(List<T> found, Function<? super T, ?> view, Exchange exchange) {
        Answer answer = Answer.ok(found.stream().limit(limit).map(view).toList());
        return found.size() > limit ? answer.with("Link", "<" + next(exchange) + ">; rel=\"next\"") : answer;
    }

    private String next(Exchange exchange) {
        List<String> parameters = new ArrayList<>();
        for (Map.Entry<String, String[]> given :
                exchange.request().getParameterMap().entrySet()) {
            for (String value : given.getValue()) {
                if (!List.of(LIMIT, OFFSET).contains(given.getKey())) {
                    parameters.add(encoded(given.getKey()) + "=" + encoded(value));
                }
            }
        }
        parameters.add(LIMIT + "=" + limit);
        parameters.add(OFFSET + "=" + (offset + limit));
        return exchange.request().getRequestURI() + "?" + String.join("&", parameters);
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
