package dev.vacancy.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.internal.catalog.PackedRows;
import dev.vacancy.internal.catalog.RowPlaces;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** Packed rows are those that were packed, whatever their values. */
class PackedRowsTest {
    private static final List<List<?>> ROWS = List.of(
            List.of(7),
            List.of(-1, Integer.MIN_VALUE, Integer.MAX_VALUE),
            List.of(7L),
            List.of(Long.MIN_VALUE),
            List.of(""),
            List.of("Fellside", "é".repeat(127)),
            List.of("é".repeat(128)),
            List.of("x".repeat(70_000)),
            List.of("Łuk 蜂", "\ud83d\udc1d", "\ud83d"),
            List.of(UUID.fromString("6f1f64a4-5d3c-4c1c-8b1a-0c4a63a5f3d1")),
            List.of(new BigDecimal("1.50"), ByteBuffer.wrap(new byte[] {1, 2}), List.of(1, 2)),
            Arrays.asList(1, null),
            List.of());

    private static PackedRows packed(List<? extends List<?>> rows) {
        PackedRows packed = new PackedRows();
        rows.forEach(packed::append);
        return packed;
    }

    @Test
    void eachRowIsReadAsItWasPacked() {
        PackedRows packed = packed(ROWS);

        assertThat(packed).isEqualTo(ROWS);
        assertThat(packed.get(0).get(0)).isInstanceOf(Integer.class);
        assertThat(packed.get(2).get(0)).isInstanceOf(Long.class);
        assertThatThrownBy(() -> packed.get(ROWS.size())).isInstanceOf(IndexOutOfBoundsException.class);
        assertThatThrownBy(() -> packed.get(-1)).isInstanceOf(IndexOutOfBoundsException.class);
    }

    @Test
    void eachRowIsFoundAndNoOther() {
        PackedRows packed = packed(ROWS);
        RowPlaces places = new RowPlaces(packed);

        for (int place = 0; place < ROWS.size(); place++) {
            assertThat(places.of(ROWS.get(place))).isEqualTo(place);
        }
        assertThat(places.of(List.of("7"))).isEqualTo(-1);
        assertThat(places.of(List.of(8))).isEqualTo(-1);
        assertThat(places.of(List.of(new BigDecimal("1.5")))).isEqualTo(-1);
    }

    @Test
    void aRowThatIsThereIsNotAppendedAgain() {
        List<List<Object>> rows = new ArrayList<>();
        for (int i = 0; i < 20_000; i++) {
            rows.add(List.of(i % 2 == 0 ? i : String.valueOf(i)));
        }
        Collections.shuffle(rows, new java.util.Random(11));
        PackedRows packed = new PackedRows();
        RowPlaces places = new RowPlaces(packed);

        long first = rows.stream().filter(places::append).count();
        long again = rows.stream().filter(places::append).count();

        assertThat(first).isEqualTo(20_000);
        assertThat(again).isZero();
        assertThat(packed).isEqualTo(rows);
    }

    @Test
    void rowsThatMeanTheSameAreFoundAsOne() {
        PackedRows packed = packed(List.of(List.of("Fell"), List.of("Moor"), List.of("FELL")));
        RowPlaces places = new RowPlaces(packed, row -> List.of(((String) row.get(0)).toLowerCase(Locale.ROOT)));

        assertThat(places.of(List.of("fell"))).isZero();
        assertThat(places.of(List.of("moor"))).isEqualTo(1);
        assertThat(places.of(List.of("Moor"))).isEqualTo(-1);
    }
}
