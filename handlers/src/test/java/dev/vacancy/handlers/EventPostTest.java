package dev.vacancy.handlers;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.TryLaterException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Another service is told by events that it can recognise and trust. */
class EventPostTest {
    private static final FollowUpMessage GONE = Messages.of(FollowUpAction.DELETED, Map.of("path", "a/10.jpg"));

    private final List<String> bodies = new ArrayList<>();
    private final List<Map<String, List<String>>> headers = new ArrayList<>();
    private HttpServer server;
    private volatile int status = 204;
    private volatile String retryAfter = "";

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/events", this::answer);
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private void answer(HttpExchange exchange) throws IOException {
        bodies.add(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        headers.add(exchange.getRequestHeaders());
        if (!retryAfter.isEmpty()) {
            exchange.getResponseHeaders().add("Retry-After", retryAfter);
        }
        exchange.sendResponseHeaders(status, -1);
        exchange.close();
    }

    private URI address() {
        return URI.create("http://localhost:" + server.getAddress().getPort() + "/events");
    }

    private EventPost post() {
        return EventPost.to(address(), URI.create("/larkmoor"));
    }

    @Test
    void eachMessageIsACloudEvent() throws Exception {
        post().handle(GONE);

        JsonNode event = JsonMapper.builder().build().readTree(bodies.get(0));
        assertThat(headers.get(0).get("Content-type")).containsExactly("application/cloudevents+json; charset=UTF-8");
        assertThat(event.get("specversion").asString()).isEqualTo("1.0");
        assertThat(event.get("id").asString()).isEqualTo(GONE.id().toString());
        assertThat(event.get("source").asString()).isEqualTo("/larkmoor");
        assertThat(event.get("type").asString()).isEqualTo("dev.vacancy.record.deleted");
        assertThat(event.get("subject").asString()).isEqualTo("photo/10");
        assertThat(event.get("time").asString()).isEqualTo("2026-03-01T08:00:00Z");
        assertThat(event.get("data").toString())
                .isEqualTo("{\"table\":\"photo\",\"key\":\"10\",\"before\":{\"path\":\"a/10.jpg\"},\"after\":null,"
                        + "\"run\":\"" + GONE.run() + "\",\"by\":{\"actor\":\"odile\",\"reason\":\"sold\"}}");
    }

    @Test
    void whoeverIsBusySaysWhenToComeBack() {
        status = 503;
        retryAfter = "120";
        assertThatThrownBy(() -> post().handle(GONE))
                .isInstanceOfSatisfying(
                        TryLaterException.class,
                        later -> assertThat(later.delay()).isEqualTo(Duration.ofMinutes(2)))
                .hasMessageContaining("answered with 503");
        status = 429;
        retryAfter = ZonedDateTime.now(ZoneOffset.UTC).plusHours(2).format(DateTimeFormatter.RFC_1123_DATE_TIME);
        assertThatThrownBy(() -> post().handle(GONE))
                .isInstanceOfSatisfying(
                        TryLaterException.class,
                        later -> assertThat(later.delay()).isBetween(Duration.ofMinutes(119), Duration.ofHours(2)));
        retryAfter = "soon";
        assertThatThrownBy(() -> post().handle(GONE))
                .isInstanceOfSatisfying(
                        TryLaterException.class,
                        later -> assertThat(later.delay()).isZero());
    }

    @Test
    void anyOtherAnswerIsAFailure() {
        for (int refused : List.of(301, 400, 404, 410)) {
            status = refused;
            assertThatThrownBy(() -> post().handle(GONE))
                    .isInstanceOf(IOException.class)
                    .hasMessageContaining("answered with " + refused);
        }
    }

    @Test
    void aSignatureIsOverTheContent() throws Exception {
        byte[] secret = "a key of thirty-two bytes, or so".getBytes(StandardCharsets.UTF_8);
        post().signedWith("larkmoor", secret).handle(GONE);

        Map<String, List<String>> sent = headers.get(0);
        String input = sent.get("Signature-input").get(0);
        long created = Long.parseLong(input.replaceAll(".*created=(\\d+).*", "$1"));
        Clock then = Clock.fixed(Instant.ofEpochSecond(created), ZoneOffset.UTC);
        Map<String, String> expected = new MessageSignature("larkmoor", secret, then)
                .headers("POST", address(), bodies.get(0).getBytes(StandardCharsets.UTF_8));
        assertThat(sent.get("Signature")).containsExactly(expected.get("Signature"));
        assertThat(sent.get("Content-digest")).containsExactly(expected.get("Content-Digest"));
        assertThat(input)
                .isEqualTo("vacancy=(\"@method\" \"@target-uri\" \"content-digest\");created=" + created
                        + ";keyid=\"larkmoor\";alg=\"hmac-sha256\"");
        assertThat(new MessageSignature("larkmoor", secret, then)
                        .headers("POST", address(), new byte[] {1})
                        .get("Signature"))
                .isNotEqualTo(expected.get("Signature"));
    }

    /** Worked out by another program, from the signature base as RFC 9421, section 2.5, has it. */
    @Test
    void aSignatureIsAsTheStandardSays() {
        Clock then = Clock.fixed(Instant.ofEpochSecond(1_772_352_000), ZoneOffset.UTC);
        Map<String, String> signed = new MessageSignature(
                        "larkmoor", "a key of thirty-two bytes, or so".getBytes(StandardCharsets.UTF_8), then)
                .headers("POST", URI.create("https://example.org/events"), "{}".getBytes(StandardCharsets.UTF_8));

        assertThat(signed)
                .containsEntry("Content-Digest", "sha-256=:RBNvo1WzZ4oRRq0W9+hknpT7T8If536DEMBg9hyq/4o=:")
                .containsEntry("Signature", "vacancy=:tslnugxujfWcugDDkxZccVZ5jvZacHJHORX6HzhtE/o=:");
    }

    @Test
    void nobodyThereIsAFailure() {
        URI nowhere = address();
        server.stop(0);

        assertThatThrownBy(() -> EventPost.to(nowhere, URI.create("/larkmoor")).handle(GONE))
                .isInstanceOf(IOException.class);
    }
}
