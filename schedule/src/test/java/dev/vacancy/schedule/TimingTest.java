package dev.vacancy.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.failure.InvalidRequestException;
import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TimingTest {
    private static final ZoneId DUBLIN = ZoneId.of("Europe/Dublin");

    @Test
    void aTimeWithoutOffsetIsOneOfTheZone() {
        Timing timing = Timing.parse("2026-07-01T02:00", null, DUBLIN);

        assertThat(timing.begin(Instant.EPOCH)).isEqualTo("2026-07-01T01:00:00Z");
        assertThat(timing.after(Instant.parse("2026-07-01T01:00:00Z"), Instant.parse("2026-07-01T01:00:01Z")))
                .isEmpty();
    }

    @Test
    void aTimeWithAnOffsetIsThatInstant() {
        assertThat(Timing.parse("2026-07-01T02:00+05:00", null, DUBLIN).begin(Instant.EPOCH))
                .isEqualTo("2026-06-30T21:00:00Z");
        assertThat(Timing.parse("2026-07-01T02:00:00Z", null, DUBLIN).begin(Instant.EPOCH))
                .isEqualTo("2026-07-01T02:00:00Z");
    }

    @Test
    void aDayStaysADayWhenTheClocksChange() {
        Timing timing = Timing.parse("2026-10-24T02:00", "P1D", DUBLIN);
        Instant first = timing.begin(Instant.EPOCH);

        Instant second = timing.after(first, first).orElseThrow();

        assertThat(first).isEqualTo("2026-10-24T01:00:00Z");
        assertThat(second).isEqualTo("2026-10-25T02:00:00Z");
    }

    @Test
    void aCronExpressionIsReadInTheZone() {
        Timing timing = Timing.parse(null, "30 2 * * 1", DUBLIN);

        assertThat(timing.begin(Instant.parse("2026-07-01T12:00:00Z"))).isEqualTo("2026-07-06T01:30:00Z");
    }

    @Test
    void whatWasMissedIsNotMadeUpFor() {
        Timing timing = Timing.parse("2026-07-01T02:00:00Z", "PT6H", DUBLIN);

        assertThat(timing.after(Instant.parse("2026-07-01T02:00:00Z"), Instant.parse("2026-07-03T09:00:00Z")))
                .contains(Instant.parse("2026-07-03T14:00:00Z"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"daily", "P0D", "PT1S", "P-1D", "61 * * * *", "P", ""})
    void whatCannotBeReadIsRefused(String every) {
        assertThatThrownBy(() -> Timing.parse(null, every, DUBLIN))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'" + every + "'");
    }

    @Test
    void nothingAtAllIsRefused() {
        assertThatThrownBy(() -> Timing.parse(null, null, DUBLIN))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("Nothing says when");
        assertThatThrownBy(() -> Timing.parse("tomorrow", null, DUBLIN))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'tomorrow'");
    }
}
