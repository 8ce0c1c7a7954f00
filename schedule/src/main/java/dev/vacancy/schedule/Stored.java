package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.serializer.Serializer;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.rule.Consent;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * A scheduled deletion as it is kept in the database: a JSON object (RFC 8259) of texts.
 *
 * @param start when it was due for the first time; empty where an earlier version has stored it
 * @param last what came of it last time, in words
 */
record Stored(ScheduledDeletion deletion, Optional<Instant> start, Optional<String> last) {
    static final Serializer AS_JSON = new Serializer() {
        @Override
        public byte[] serialize(Object data) {
            return data == null ? null : ((Stored) data).json().getBytes(StandardCharsets.UTF_8);
        }

        @Override
        public <T> T deserialize(Class<T> type, byte[] data) {
            return data == null ? null : type.cast(of(new String(data, StandardCharsets.UTF_8)));
        }
    };

    private static final JsonMapper MAPPER = JsonMapper.builder().build();
    private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};

    private static final int LONGEST = 4_000;
    private static final int LEAST_LEFT = 300;

    /** Refuses what the database wouldn't keep. */
    void require() {
        int length = deletion.where()
                .map(text -> Criteria.parse(text).toString().length())
                .orElse(0);
        if (length > BulkRuns.LONGEST_CRITERIA) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The criteria of the scheduled deletion '" + deletion.name() + "' have " + length + " characters.",
                    "Say the same in " + BulkRuns.LONGEST_CRITERIA
                            + ": they are held against each record when it comes to it.");
        }
        if (new Stored(deletion, start, Optional.of("x".repeat(LEAST_LEFT)))
                        .written()
                        .length()
                > LONGEST) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The criteria, names and reason of the scheduled deletion '" + deletion.name()
                            + "' are too long to be kept.",
                    "Say the same in fewer words: names and reason have about 2,000 characters in all.");
        }
    }

    /** What came of it last time is told as far as there is room, so that it can always be written down. */
    private String json() {
        Stored fitting = this;
        String written = fitting.written();
        while (written.length() > LONGEST && fitting.last().isPresent()) {
            String words = fitting.last().get();
            int most = words.length() - Math.max(1, (written.length() - LONGEST) / 6);
            fitting = new Stored(
                    deletion,
                    start,
                    Optional.of(words.substring(0, Math.max(0, most - 1)))
                            .filter(text -> !text.isEmpty())
                            .map(text -> text + "…"));
            written = fitting.written();
        }
        return written;
    }

    private String written() {
        Map<String, String> texts = new TreeMap<>();
        texts.put("name", deletion.name());
        texts.put("table", deletion.table());
        deletion.where().ifPresent(text -> texts.put("where", text));
        texts.put("actor", deletion.by().actor());
        texts.put("program", String.valueOf(deletion.by().isProgram()));
        deletion.by().reason().ifPresent(text -> texts.put("reason", text));
        deletion.atMost().ifPresent(most -> texts.put("atMost", String.valueOf(most)));
        Timing timing = deletion.timing();
        timing.first().ifPresent(first -> texts.put("first", first.toString()));
        timing.every().ifPresent(every -> texts.put("every", every));
        texts.put("zone", timing.zone().getId());
        texts.put("given", deletion.given().toString());
        deletion.exemption().ifPresent(name -> texts.put("exemption", name));
        start.ifPresent(first -> texts.put("start", first.toString()));
        last.ifPresent(text -> texts.put("last", text));
        return MAPPER.writeValueAsString(texts);
    }

    private static Stored of(String json) {
        Map<String, String> texts = MAPPER.readValue(json, TEXTS);
        By by = new By(
                texts.get("actor"),
                Optional.ofNullable(texts.get("reason")),
                Boolean.parseBoolean(texts.get("program")));
        String most = texts.get("atMost");
        return new Stored(
                new ScheduledDeletion(
                        texts.get("name"),
                        texts.get("table"),
                        Optional.ofNullable(texts.get("where")),
                        by,
                        most == null ? OptionalLong.empty() : OptionalLong.of(Long.parseLong(most)),
                        new Timing(
                                Optional.ofNullable(texts.get("first")).map(Instant::parse),
                                Optional.ofNullable(texts.get("every")),
                                ZoneId.of(texts.get("zone"))),
                        Consent.valueOf(texts.getOrDefault("given", "none").toUpperCase(Locale.ROOT)),
                        Optional.ofNullable(texts.get("exemption"))),
                Optional.ofNullable(texts.get("start")).map(Instant::parse),
                Optional.ofNullable(texts.get("last")));
    }
}
