package dev.vacancy.internal.trail;

import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * A run that isn't in the trail any more, as it was aged away or written anew.
 *
 * @param place its place
 * @param digest what it bore
 * @since 0.1
 */
public record PrunedRun(long place, String digest) {
    private static final String DIGEST = "digest";

    /**
     * Reads what {@link #toString} gives.
     *
     * @param words the words of an ageing's selection
     * @return the same
     */
    public static PrunedRun of(String words) {
        String[] until = words.split(" ", 2);
        return new PrunedRun(Long.parseLong(until[0]), until[1]);
    }

    /**
     * Writes down which runs there were, in the run that removes or rewrites them.
     *
     * @param writer writes its entries
     * @param run its id
     * @param runs the runs, in their order
     * @throws SQLException when the database refuses
     */
    public static void write(EntryWriter writer, UUID run, List<PrunedRun> runs) throws SQLException {
        Recorder.Heading heading = new Recorder.Heading(run, 1, Action.AGED, "", Optional.empty());
        long place = 0;
        for (PrunedRun each : runs) {
            writer.add(heading, ++place, String.valueOf(each.place), each.content(), null);
        }
        writer.flush();
    }

    /**
     * Says which of some runs is the last.
     *
     * @param runs the runs, in their order
     * @return the last one
     */
    public static PrunedRun last(List<StoredRun> runs) {
        StoredRun last = runs.get(runs.size() - 1);
        return new PrunedRun(last.place(), last.digest());
    }

    /** {@return what the entry keeps that tells of it} */
    public String content() {
        return Image.write(Map.of(DIGEST, digest));
    }

    /** Whether an entry that was written so tells of this run. */
    boolean isToldBy(StoredEntry entry) {
        return entry.isIntact()
                && entry.image()
                        .filter(image -> digest.equals(image.get(DIGEST)))
                        .isPresent();
    }

    @Override
    public String toString() {
        return place + " " + digest;
    }
}
