package dev.vacancy.internal.chunking;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.internal.dialect.ServerNumber;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Servers that don't see each other's claims begin apart, and leave nothing out. */
class PlaceRangeTest {
    @ParameterizedTest
    @CsvSource({"1, 1", "1, 3", "2, 3", "10, 3", "1000, 3", "7, 5"})
    void eachServerGoesThroughAllPlacesAndBeginsWithItsOwn(long records, int servers) {
        List<Long> begun = IntStream.range(0, servers)
                .mapToObj(server -> PlaceRange.of(records, new ServerNumber(server, servers), 100))
                .peek(ranges -> assertThat(ranges.stream().flatMap(PlaceRangeTest::places))
                        .containsExactlyInAnyOrderElementsOf(
                                LongStream.rangeClosed(1, records).boxed().toList()))
                .flatMap(ranges -> places(ranges.get(0)))
                .toList();

        assertThat(begun).doesNotHaveDuplicates().hasSize((int) records);
    }

    private static Stream<Long> places(PlaceRange range) {
        return LongStream.rangeClosed(range.first(), range.last()).boxed();
    }
}
