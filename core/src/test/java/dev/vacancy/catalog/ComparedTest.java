package dev.vacancy.catalog;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.OnDelete;
import java.lang.reflect.RecordComponent;
import java.sql.Types;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Records that compare themselves overlook none of their components. */
class ComparedTest {
    private static final ColumnType WHOLE = ColumnType.of("integer", Types.INTEGER, 0, 0);
    private static final Column HIVE_ID =
            new CatalogColumn("hive_id", "HIVE_ID", WHOLE, true, Optional.empty(), false, false);
    private static final Column SPARE =
            new CatalogColumn("spare", "SPARE", WHOLE, true, Optional.empty(), false, false);
    private static final Table HIVE = table("hive");
    private static final Table INSPECTION = table("inspection");

    private static final Map<Class<?>, Object> OTHERS = Map.of(
            String.class, "other",
            ColumnType.class, ColumnType.of("bigint", Types.BIGINT, 0, 0),
            boolean.class, true,
            Optional.class, Optional.of("7"),
            Table.class, table("stand"),
            List.class, List.of(SPARE),
            OnDelete.class, OnDelete.CASCADE);

    @Test
    void columnsDifferByEachComponent() throws Exception {
        assertComparesAll(new CatalogColumn("hive_id", "HIVE_ID", WHOLE, false, Optional.empty(), false, false));
    }

    @Test
    void linksDifferByEachComponent() throws Exception {
        List<Column> key = List.of(HIVE_ID);
        assertComparesAll(
                new CatalogLink("of_hive", INSPECTION, key, HIVE, key, OnDelete.NO_ACTION, false, key, false, false));
    }

    private static void assertComparesAll(Record one) throws Exception {
        RecordComponent[] components = one.getClass().getRecordComponents();
        Object[] values = new Object[components.length];
        for (int i = 0; i < components.length; i++) {
            values[i] = components[i].getAccessor().invoke(one);
        }
        assertThat(copy(one, values)).isEqualTo(one).hasSameHashCodeAs(one);
        for (int i = 0; i < components.length; i++) {
            Object[] changed = values.clone();
            changed[i] = OTHERS.get(components[i].getType());
            assertThat(copy(one, changed)).as(components[i].getName()).isNotEqualTo(one);
        }
    }

    private static Object copy(Record one, Object[] values) throws Exception {
        Class<?>[] types = Arrays.stream(one.getClass().getRecordComponents())
                .map(RecordComponent::getType)
                .toArray(Class<?>[]::new);
        return one.getClass().getDeclaredConstructor(types).newInstance(values);
    }

    private static Table table(String name) {
        return new CatalogTable(name, "public", name, List.of(HIVE_ID, SPARE), List.of(HIVE_ID), List.of(), List.of());
    }
}
