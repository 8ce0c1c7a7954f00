package dev.vacancy.schedule;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import java.util.OptionalLong;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is kept of a scheduled deletion fits into its column, whatever has to be told of the last time: else it would be due again each minute. */
class StoredTest {
    private static final Instant START = Instant.parse("2026-11-29T02:00:00Z");
    private static final int COLUMN = 4_000;

    @ParameterizedTest
    @ValueSource(strings = {"x", "\"", "\u0007", "ü", "🐝"})
    void whatCameOfTheLastTimeIsToldAsFarAsThereIsRoom(String letter) {
        ScheduledDeletion deletion = new ScheduledDeletion(
                "old readings",
                "reading",
                Optional.of("note = '" + "y".repeat(2_500) + "'"),
                By.program("night shift").because("r".repeat(500)),
                OptionalLong.of(10),
                new Timing(Optional.of(START), Optional.of("P1D"), ZoneId.of("UTC")));
        Stored stored = new Stored(deletion, Optional.of(START), Optional.of("refused: " + letter.repeat(3_000)));

        byte[] written = Stored.AS_JSON.serialize(stored);
        Stored read = Stored.AS_JSON.deserialize(Stored.class, written);

        assertThat(new String(written, StandardCharsets.UTF_8)).hasSizeLessThanOrEqualTo(COLUMN);
        assertThat(read.deletion()).isEqualTo(deletion);
        assertThat(read.start()).contains(START);
        assertThat(read.last())
                .hasValueSatisfying(last ->
                        assertThat(last).startsWith("refused: " + letter).endsWith("…"));
    }
}
