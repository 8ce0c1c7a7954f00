package dev.vacancy.web;

import dev.vacancy.catalog.Table;
import dev.vacancy.history.History;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What must not go, for as long as somebody holds it. */
final class Holds {
    private final Offer offer;

    Holds(Offer offer) {
        this.offer = offer;
    }

    Answer list(Exchange exchange) {
        Page page = Page.of(exchange);
        return page.of(
                history(exchange).holds().stream()
                        .skip(page.offset())
                        .limit(page.wanted())
                        .toList(),
                Records::view,
                exchange);
    }

    /** Holds records, until somebody lifts it. */
    Answer hold(Exchange asked) throws IOException {
        Map<String, Object> body = asked.body();
        Exchange exchange = asked.because(body);
        Table table = offer.table(text(body, "table"));
        History history = history(exchange);
        String where = text(body, "where");
        UUID hold = isStanding(body)
                ? history.standingHold(table.name(), where, exchange.by())
                : history.hold(table.name(), where, exchange.by());
        return Answer.ok(Map.of("hold", hold.toString()))
                .as(HttpServletResponse.SC_CREATED)
                .with("Location", exchange.address("holds", hold.toString()));
    }

    private static boolean isStanding(Map<String, Object> body) {
        Object standing = body.getOrDefault("standing", false);
        if (standing instanceof Boolean is) {
            return is;
        }
        throw Problem.of(
                HttpServletResponse.SC_BAD_REQUEST,
                "usage",
                "The member standing is neither true nor false.",
                "Send true to hold what comes to meet the criteria later, or leave it out.");
    }

    private static String text(Map<String, Object> body, String member) {
        return Optional.ofNullable(body.get(member))
                .filter(String.class::isInstance)
                .map(String.class::cast)
                .orElseThrow(() -> Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "The content doesn't say what is held: " + member + " is missing.",
                        "Send {\"table\": \"hive\", \"where\": \"hive_id = 12\", \"reason\": \"…\"}."));
    }

    Answer lift(Exchange exchange) {
        history(exchange).lift(Exchange.id(exchange.path().get(1)), exchange.by());
        return Answer.nothing();
    }

    private History history(Exchange exchange) {
        return offer.ofAll(exchange.by()).history();
    }
}
