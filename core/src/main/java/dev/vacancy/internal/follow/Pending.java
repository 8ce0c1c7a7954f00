package dev.vacancy.internal.follow;

import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * A message that is about to be written down.
 *
 * @param followUp the name of the follow-up
 * @param run the run that it is about
 * @param place the place in the trail that it comes behind
 * @param entry the entry that it is about
 * @param action what happened
 * @param before the columns that are handed over, as they were
 * @param after the columns as they are now
 */
public record Pending(
        String followUp,
        StoredRun run,
        long place,
        StoredEntry entry,
        FollowUpAction action,
        Optional<Map<String, Object>> before,
        Optional<Map<String, Object>> after) {
    /** The same each time that it is made of the same entry. */
    public UUID id() {
        Reference reference = entry.reference();
        return UUID.nameUUIDFromBytes(
                (followUp + " " + run.facts().runId() + " " + reference.step() + " " + reference.place() + " " + action)
                        .getBytes(StandardCharsets.UTF_8));
    }

    /** Where the messages of one record have the same; one of a table without a key has its own. */
    public String recordDigest() {
        return Chain.digest(
                followUp + " " + entry.table() + " " + (entry.key() == null ? "\n" + entry.reference() : entry.key()));
    }

    String beforeText() {
        return before.map(Image::write).orElse(null);
    }

    String afterText() {
        return after.map(Image::write).orElse(null);
    }
}
