package dev.vacancy.internal.trail;

import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;

/**
 * What the trail says of a run, beside its entries.
 *
 * @param runId the run's id
 * @param kind what it was: a deletion, a restore, a purge, an erasure, a hold, the lifting of one, an ageing of the trail
 * @param actor who wanted it
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
        String kind,
        String actor,
        Optional<String> reason,
        String at,
        String table,
        String selection,
        String rules,
        Map<String, Long> counts,
        Optional<UUID> partOf,
        Optional<UUID> about) {

    /**
     * Says what the run belongs to.
     *
     * @param whole a bulk run, or a restore in portions; empty if it is one by itself
     * @return the same facts with that
     */
    public RunFacts partOf(Optional<UUID> whole) {
        return new RunFacts(runId, kind, actor, reason, at, table, selection, rules, counts, whole, about);
    }

    /**
     * The facts in one text, each in a line of its own, as the chain digests them.
     *
     * @param selectionDigest what stands for the words of the selection, which may be erased
     */
    String text(String selectionDigest) {
        return String.join(
                "\n",
                runId.toString(),
                kind,
                actor,
                reason.orElse(""),
                at,
                table,
                selectionDigest,
                rules,
                countsText(),
                partOf.map(UUID::toString).orElse(""),
                about.map(UUID::toString).orElse(""));
    }

    String countsText() {
        Map<String, Object> plain = new TreeMap<>(counts);
        return Image.write(plain);
    }
}
