package dev.vacancy.handlers;

import dev.vacancy.JsonForm;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.TryLaterException;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tells another service by HTTP: each message is a CloudEvent (version 1.0, JSON format, structured mode) that is sent by POST. The event's
 * id is the message's, so that the service recognises what it was told before; its type is {@code dev.vacancy.record.deleted}, or {@code
 * marked}, {@code restored}, {@code purged}, {@code changed} at the end.
 *
 * <p>Any answer of 200 to 299 says that it was handled. With 408, 425, 429 and 500 to 599 it is tried later, at the time that Retry-After
 * gives (RFC 9110, section 10.2.3) if there is one; any other answer is a failure as well. Redirects aren't followed.
 *
 * <p>It may be used by any number of threads.
 *
 * @since 0.1
 */
public final class EventPost implements FollowUpHandler {
    private static final Duration LONGEST = Duration.ofSeconds(30);
    private static final Set<Integer> LATER = Set.of(408, 425, 429);
    private static final JsonMapper JSON = JsonMapper.builder().build();

    private final HttpClient client;
    private final URI address;
    private final URI source;
    private final Optional<MessageSignature> signature;

    private EventPost(HttpClient client, URI address, URI source, Optional<MessageSignature> signature) {
        this.client = client;
        this.address = address;
        this.source = source;
        this.signature = signature;
    }

    /**
     * Sends to an address.
     *
     * @param address an HTTP or HTTPS address
     * @param source what the events say they come from, such as {@code /larkmoor}
     * @return the handler, which signs nothing
     */
    public static EventPost to(URI address, URI source) {
        return new EventPost(
                HttpClient.newBuilder().connectTimeout(LONGEST).build(), address, source, Optional.empty());
    }

    /**
     * Signs each message, so that the service knows who sends it (RFC 9421, hmac-sha256, over the method, the address and the digest of
     * the content as in RFC 9530).
     *
     * @param keyId the key's name
     * @param secret the key, 32 bytes or more
     * @return the handler that signs
     */
    public EventPost signedWith(String keyId, byte[] secret) {
        return new EventPost(
                client, address, source, Optional.of(new MessageSignature(keyId, secret, Clock.systemUTC())));
    }

    @Override
    public void handle(FollowUpMessage message) throws IOException, InterruptedException, TryLaterException {
        byte[] event = JSON.writeValueAsString(event(message)).getBytes(StandardCharsets.UTF_8);
        HttpRequest.Builder request = HttpRequest.newBuilder(address)
                .timeout(LONGEST)
                .header("Content-Type", "application/cloudevents+json; charset=UTF-8")
                .POST(HttpRequest.BodyPublishers.ofByteArray(event));
        signature.ifPresent(signing -> signing.headers("POST", address, event).forEach(request::header));
        HttpResponse<Void> answer = client.send(request.build(), HttpResponse.BodyHandlers.discarding());
        int status = answer.statusCode();
        if (status / 100 == 2) {
            return;
        }
        String failure = address + " answered with " + status;
        if (status / 100 == 5 || LATER.contains(status)) {
            throw new TryLaterException(failure, delay(answer));
        }
        throw new IOException(failure);
    }

    private Map<String, Object> event(FollowUpMessage message) {
        Map<String, Object> by = new LinkedHashMap<>();
        by.put("actor", message.by().actor());
        by.put("reason", message.by().reason().orElse(null));
        Map<String, Object> plain = JsonForm.of(message);
        Map<String, Object> data = new LinkedHashMap<>();
        data.put("table", message.table());
        data.put("key", message.key().orElse(null));
        data.put("before", plain.get("before"));
        data.put("after", plain.get("after"));
        data.put("run", message.run().toString());
        data.put("by", by);
        Map<String, Object> event = new LinkedHashMap<>();
        event.put("specversion", "1.0");
        event.put("id", message.id().toString());
        event.put("source", source.toString());
        event.put("type", "dev.vacancy.record." + message.action());
        event.put(
                "subject", message.table() + message.key().map(key -> "/" + key).orElse(""));
        event.put("time", message.at().toString());
        event.put("datacontenttype", "application/json");
        event.put("data", data);
        return event;
    }

    /** Seconds, or a date; what is neither says nothing. */
    private static Duration delay(HttpResponse<?> answer) {
        String given = answer.headers().firstValue("Retry-After").orElse("").strip();
        try {
            if (given.matches("[0-9]{1,9}")) {
                return Duration.ofSeconds(Long.parseLong(given));
            }
            Duration until =
                    Duration.between(Instant.now(), ZonedDateTime.parse(given, DateTimeFormatter.RFC_1123_DATE_TIME));
            return until.isNegative() ? Duration.ZERO : until;
        } catch (DateTimeException none) {
            return Duration.ZERO;
        }
    }
}
