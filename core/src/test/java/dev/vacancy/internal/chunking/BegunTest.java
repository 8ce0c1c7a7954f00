package dev.vacancy.internal.chunking;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What is said of records that take more than one transaction. */
class BegunTest {
    @Test
    void aPartTakesThePlaceOfItsBeginning() {
        Begun begun = Begun.NOTHING.announcing("reading");
        assertThat(begun.before(Optional.of("it is locked")))
                .isEqualTo("reading on other servers was begun; it is locked");

        Begun one = begun.with(Map.of("reading", 1_200L), 0);
        assertThat(one.before(Optional.empty()))
                .isEqualTo("1,200 of reading below it are gone; the rest is still to be done");

        Begun two = one.announcing("photo").with(Map.of("photo", 3L), 4);
        assertThat(two.text())
                .isEqualTo("1,200 of reading below it are gone, 3 of photo below it and 4 others are gone");
    }

    @Test
    void aBeginningIsThatOfItsTableAlone() {
        Begun begun = Begun.NOTHING.with(Map.of("photo", 3L), 0).announcing("old_reading");

        assertThat(begun.isAnnounced("old_reading")).isTrue();
        assertThat(begun.isAnnounced("reading")).isFalse();
        assertThat(begun.with(Map.of(), 0).text()).isEqualTo("3 of photo below it are gone");
    }

    @Test
    void theEndIsKeptHoweverLongItIs() {
        Begun begun = Begun.NOTHING;
        for (int i = 0; i < 100; i++) {
            begun = begun.announcing("reading").with(Map.of("reading", 100L + i), 0);
        }

        assertThat(begun.announcing("reading").isAnnounced("reading")).isTrue();
        assertThat(begun.text()).hasSizeLessThanOrEqualTo(1_000).endsWith("199 of reading below it are gone");
    }
}
