package dev.vacancy.internal.trail;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.UnaryOperator;

/**
 * What the trail says of a run, beside its entries.
 *
 * @param runId the run's id
 * @param kind what it was
 * @param actor who wanted it
 * @param colleague who agreed besides
 * @param reason why
 * @param at when, UTC, with six digits behind the second
 * @param table the table whose records were selected
 * @param selection which of them, in words
 * @param rules a digest of the rules
 * @param counts how many records of each table
 * @param partOf the bulk run, or the restore in portions, that it belongs to
 * @param about the run that it undoes, or the hold that it lifts
 * @since 0.1
 */
public record RunFacts(
        UUID runId,
        RunKind kind,
        String actor,
        Optional<String> colleague,
        Optional<String> reason,
        String at,
        String table,
        String selection,
        String rules,
        Map<String, Long> counts,
        Optional<UUID> partOf,
        Optional<UUID> about) {
    private static final char UNKNOWN = '\ufffd';

    /** Replaces what no database keeps, so that what is digested is what is stored. */
    public RunFacts {
        actor = storable(actor);
        colleague = colleague.map(RunFacts::storable);
        reason = reason.map(RunFacts::storable);
        selection = storable(selection);
    }

    /**
     * Says what the run belongs to.
     *
     * @param whole a bulk run, or a restore in portions; empty if it is one by itself
     * @return the same facts with that
     */
    public RunFacts partOf(Optional<UUID> whole) {
        return new RunFacts(runId, kind, actor, colleague, reason, at, table, selection, rules, counts, whole, about);
    }

    /** The same with other words of the selection. */
    RunFacts selecting(String words) {
        return new RunFacts(runId, kind, actor, colleague, reason, at, table, words, rules, counts, partOf, about);
    }

    /**
     * Returns the same with all words that people wrote as something else has them, but for those of the selection.
     *
     * @param change what becomes of a text
     * @return the facts
     */
    public RunFacts inOtherWords(UnaryOperator<String> change) {
        return new RunFacts(
                runId,
                kind,
                change.apply(actor),
                colleague.map(change),
                reason.map(change),
                at,
                table,
                selection,
                rules,
                counts,
                partOf,
                about);
    }

    /** Half a surrogate pair is no character, and U+0000 ends a text. */
    static String storable(String text) {
        StringBuilder kept = new StringBuilder(text.length());
        text.codePoints()
                .map(point -> point == 0 || (point >= Character.MIN_SURROGATE && point <= Character.MAX_SURROGATE)
                        ? UNKNOWN
                        : point)
                .forEach(kept::appendCodePoint);
        return kept.toString();
    }

    /** Adds each fact to a digest; of the words of the selection, which may be erased, what stands for them. */
    FramedDigest addTo(FramedDigest digest, String selectionDigest) {
        return digest.field(runId.toString())
                .field(kind.word())
                .field(actor)
                .field(colleague.orElse(null))
                .field(reason.orElse(null))
                .field(at)
                .field(table)
                .field(selectionDigest)
                .field(rules)
                .field(text(counts))
                .field(partOf.map(UUID::toString).orElse(null))
                .field(about.map(UUID::toString).orElse(null));
    }

    /**
     * Reads what {@link #text} gives.
     *
     * @param text the text
     * @return how many records of each table
     */
    public static Map<String, Long> counts(String text) {
        Map<String, Long> counts = new LinkedHashMap<>();
        Image.read(text).forEach((table, count) -> counts.put(table, ((Number) count).longValue()));
        return counts;
    }

    /**
     * Writes numbers of records down.
     *
     * @param counts how many of each table
     * @return a JSON object, in the order of the names
     */
    public static String text(Map<String, Long> counts) {
        return Image.write(new TreeMap<>(counts));
    }
}
