package dev.vacancy.internal.running;

import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.internal.trail.Image;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.UnaryOperator;

/**
 * What came of an approval, as it is kept: all in texts, so that each database keeps it alike.
 *
 * @param run the id of the run
 * @param table the table whose records were selected
 * @param at when it was done
 * @param counts how many records of each table went or came back
 * @param marked the tables whose records were marked and stay
 * @param changed how many records stay with another foreign key, by link
 * @since 0.1
 */
public record StoredReceipt(
        UUID run, String table, Instant at, Map<String, Long> counts, List<String> marked, Map<String, Long> changed) {
    private static final String RUN = "run_id";
    private static final String TABLE = "table_name";
    private static final String AT = "done_at";
    private static final String COUNTS = "counts";
    private static final String MARKED = "marked";
    private static final String CHANGED = "changed";

    /** The names under which it is kept, in the order of {@link #texts}. */
    public static final List<String> NAMES = List.of(RUN, TABLE, AT, COUNTS, MARKED, CHANGED);

    /** Keeps its own copies of the collections. */
    public StoredReceipt {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        marked = List.copyOf(marked);
        changed = Collections.unmodifiableMap(new LinkedHashMap<>(changed));
    }

    /**
     * Says what came of an approval.
     *
     * @param run the id of the run
     * @param done what it did
     * @param at when
     * @return the receipt
     */
    public static StoredReceipt of(UUID run, Proposal done, Instant at) {
        return new StoredReceipt(
                run,
                done.subject(),
                at,
                done.counts(),
                done instanceof Plan deletion
                        ? deletion.marked().stream().sorted().toList()
                        : List.of(),
                done.changes());
    }

    /** {@return the texts in which it is kept, by name} */
    public Map<String, String> texts() {
        Map<String, String> texts = new LinkedHashMap<>();
        texts.put(RUN, run.toString());
        texts.put(TABLE, table);
        texts.put(AT, at.toString());
        texts.put(COUNTS, Image.write(new LinkedHashMap<>(counts)));
        texts.put(MARKED, Image.write(Map.of(MARKED, marked)));
        texts.put(CHANGED, Image.write(new LinkedHashMap<>(changed)));
        return texts;
    }

    /**
     * Reads what was kept.
     *
     * @param texts gives the text by its name
     * @return the receipt
     */
    public static StoredReceipt read(UnaryOperator<String> texts) {
        return new StoredReceipt(
                UUID.fromString(texts.apply(RUN)),
                texts.apply(TABLE),
                Instant.parse(texts.apply(AT)),
                numbers(texts.apply(COUNTS)),
                words(texts.apply(MARKED)),
                numbers(texts.apply(CHANGED)));
    }

    private static Map<String, Long> numbers(String image) {
        Map<String, Long> numbers = new LinkedHashMap<>();
        Image.read(image).forEach((name, value) -> numbers.put(name, ((Number) value).longValue()));
        return numbers;
    }

    private static List<String> words(String image) {
        return ((List<?>) Image.read(image).get(MARKED))
                .stream().map(String::valueOf).toList();
    }
}
