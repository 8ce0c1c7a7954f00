package dev.vacancy;

import dev.vacancy.catalog.RecordContent;
import dev.vacancy.internal.request.GivenReporting;
import java.sql.Connection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Consumer;

/**
 * What a run tells besides its outcome: each selected record as it was, however many there are, and the keys of what went with
 * them, which caches and indexes need.
 *
 * @since 0.1
 */
public sealed interface Reporting permits GivenReporting {
    /**
     * {@return takes each selected record, whole, in the order of keys, before the run commits, and the run's connection; if it
     * throws, nothing is deleted}
     */
    Optional<BiConsumer<RecordContent, Connection>> records();

    /**
     * {@return the tables of which the outcome holds the keys of records that went, were marked or changed, by name; all of them in
     * memory}
     */
    Set<String> keysOf();

    /**
     * Returns a reporting of nothing.
     *
     * @return what most runs need
     */
    static Reporting none() {
        return new GivenReporting(Optional.empty(), Set.of());
    }

    /**
     * Returns the same with somebody who takes the selected records.
     *
     * @param consumer is given each of them inside the transaction, so it should be quick; that they are gone is certain only
     *     when the run returns
     * @return what to report
     */
    default Reporting onRecord(Consumer<RecordContent> consumer) {
        return onRecord((record, connection) -> consumer.accept(record));
    }

    /**
     * Returns the same with somebody who takes the selected records, and reads or writes in the transaction of the run.
     *
     * @param consumer is given each of them and the run's connection, on which no transaction can be ended
     * @return what to report
     */
    default Reporting onRecord(BiConsumer<RecordContent, Connection> consumer) {
        return new GivenReporting(Optional.of(consumer), keysOf());
    }

    /**
     * Returns the same with the keys of tables.
     *
     * @param tables names of tables; one of which nothing goes is fine
     * @return what to report
     */
    default Reporting keysOf(String... tables) {
        Set<String> all = new LinkedHashSet<>(keysOf());
        all.addAll(List.of(tables));
        return new GivenReporting(records(), all);
    }
}
