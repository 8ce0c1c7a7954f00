package dev.vacancy.run;

import dev.vacancy.catalog.RecordContent;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/**
 * What a run tells besides its outcome: each selected record as it was, however many there are, and the keys of what went with
 * them, which caches and indexes need.
 *
 * @param records takes each selected record, whole, in the order of keys, before the run commits; if it throws, nothing is
 *     deleted
 * @param keysOf the tables whose deleted keys the outcome holds, by name; all of them in memory
 * @since 0.1
 */
public record Reporting(Optional<Consumer<RecordContent>> records, Set<String> keysOf) {
    /** Keeps its own copy of the names. */
    public Reporting {
        keysOf = Set.copyOf(keysOf);
    }

    /**
     * Returns a reporting of nothing.
     *
     * @return what most runs need
     */
    public static Reporting nothing() {
        return new Reporting(Optional.empty(), Set.of());
    }

    /**
     * Returns the same with somebody who takes the selected records.
     *
     * @param consumer is given each of them inside the transaction, so it should be quick; that they are gone is certain only
     *     when the run returns
     * @return what to report
     */
    public Reporting records(Consumer<RecordContent> consumer) {
        return new Reporting(Optional.of(consumer), keysOf);
    }

    /**
     * Returns the same with the keys of tables.
     *
     * @param tables names of tables; one of which nothing goes is fine
     * @return what to report
     */
    public Reporting keysOf(String... tables) {
        Set<String> all = new LinkedHashSet<>(keysOf);
        all.addAll(List.of(tables));
        return new Reporting(records, all);
    }
}
