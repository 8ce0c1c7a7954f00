package dev.vacancy.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.InvalidRequestException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TimingTest {
    private static final ZoneId DUBLIN = ZoneId.of("Europe/Dublin");

    private static Optional<Instant> after(Timing timing, Instant due, Instant now) {
        return timing.after(due, due, now);
    }

    /** As it is due again and again, in the zone. */
    private static List<String> local(Timing timing, int times) {
        Instant first = timing.begin(Instant.EPOCH);
        return Stream.iterate(first, due -> timing.after(first, due, due).orElseThrow())
                .limit(times)
                .map(due -> due.atZone(DUBLIN).toLocalDateTime().toString())
                .toList();
    }

    @Test
    void twoOClockStaysTwoOClockAfterADayThatHasNone() {
        assertThat(local(Timing.parse("2026-03-28T01:30", "P1D", DUBLIN), 3))
                .containsExactly("2026-03-28T01:30", "2026-03-29T02:30", "2026-03-30T01:30");
        assertThat(local(Timing.parse("2026-10-24T01:30", "P1DT6H", DUBLIN), 3))
                .containsExactly("2026-10-24T01:30", "2026-10-25T06:30", "2026-10-26T13:30");
    }

    @Test
    void theLastOfAMonthIsTheLastAgainAfterAShortOne() {
        assertThat(local(Timing.parse("2027-01-31T02:00", "P1M", DUBLIN), 4))
                .containsExactly("2027-01-31T02:00", "2027-02-28T02:00", "2027-03-31T02:00", "2027-04-30T02:00");
    }

    /** Twenty years of minutes aren't gone through one by one. */
    @Test
    void whatWasMissedForLongIsPassedOver() {
        Timing timing = Timing.parse("2006-01-01T00:00:00Z", "PT1M", DUBLIN);
        Instant start = timing.begin(Instant.EPOCH);

        assertThat(timing.after(start, start, Instant.parse("2026-11-29T03:00:30Z")))
                .contains(Instant.parse("2026-11-29T03:01:00Z"));
    }

    @Test
    void whatNoDatabaseKeepsIsRefused() {
        for (String first : List.of("1900-01-01T00:00:00Z", "2100-01-01T00:00:00Z", "+99999-01-01T00:00:00Z")) {
            assertThatThrownBy(() -> Timing.parse(first, "PT1M", DUBLIN))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("would be due at");
        }
        assertThat(Timing.parse("2037-12-31T00:00:00Z", "P1D", DUBLIN)
                        .after(
                                Instant.parse("2037-12-31T00:00:00Z"),
                                Instant.parse("2037-12-31T00:00:00Z"),
                                Instant.parse("2037-12-31T00:00:00Z")))
                .isEmpty();
    }

    @Test
    void aTimeWithoutOffsetIsOneOfTheZone() {
        Timing timing = Timing.parse("2026-07-01T02:00", null, DUBLIN);

        assertThat(timing.begin(Instant.EPOCH)).isEqualTo("2026-07-01T01:00:00Z");
        assertThat(after(timing, Instant.parse("2026-07-01T01:00:00Z"), Instant.parse("2026-07-01T01:00:01Z")))
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

        Instant second = after(timing, first, first).orElseThrow();

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

        assertThat(after(timing, Instant.parse("2026-07-01T02:00:00Z"), Instant.parse("2026-07-03T09:00:00Z")))
                .contains(Instant.parse("2026-07-03T14:00:00Z"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"daily", "P0D", "PT1S", "P-1D", "61 * * * *", "P", "", "-", "* * * * * *", "P3000000Y"})
    void whatCannotBeReadIsRefused(String every) {
        assertThatThrownBy(() -> Timing.parse(null, every, DUBLIN))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'" + every + "'");
    }

    @Test
    void aDayThatNeverComesIsRefused() {
        assertThatThrownBy(() -> Timing.parse(null, "0 2 30 2 *", DUBLIN)).isInstanceOf(InvalidRequestException.class);
        assertThat(Timing.parse(null, "0 2 29 2 *", DUBLIN).begin(Instant.parse("2026-07-01T12:00:00Z")))
                .isEqualTo("2028-02-29T02:00:00Z");
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

    @Test
    void sixFieldsBeginWithTheSecond() {
        Timing weekdays = Timing.parse(null, "30 0 2 * * MON-FRI", DUBLIN);

        // A Saturday.
        assertThat(weekdays.begin(Instant.parse("2026-07-04T12:00:00Z"))).isEqualTo("2026-07-06T01:00:30Z");
        assertThatThrownBy(() -> Timing.parse(null, "* 0 2 * * *", DUBLIN)).isInstanceOf(InvalidRequestException.class);
        assertThatThrownBy(() -> Timing.parse(null, "0 0 2 * * * 2026", DUBLIN))
                .isInstanceOf(InvalidRequestException.class);
    }
}
