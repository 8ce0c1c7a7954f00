package dev.vacancy.web;

import dev.vacancy.confirm.ApprovalKeys;
import dev.vacancy.wording.Wording;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

/**
 * What a {@link DeletionServlet} offers besides.
 *
 * @param keys what approvals are signed with, so that they can travel; empty for none that do
 * @param largest of more records than these a deletion becomes a bulk run
 * @param wording finds the words of questions, dialogs and failures, given the languages that a request accepts
 * @since 0.1
 */
public record WebOptions(Optional<ApprovalKeys> keys, long largest, Function<List<Locale>, Wording> wording) {
    private static final long USUAL_LARGEST = 100_000;

    /**
     * Returns what is usual.
     *
     * @return no signed approvals, bulk runs beyond 100,000 records, questions in the languages that there are
     */
    public static WebOptions usual() {
        return new WebOptions(Optional.empty(), USUAL_LARGEST, Wording::firstOf);
    }

    /**
     * Signs approvals, so that they are redeemed once, and a colleague can agree.
     *
     * @param with the keys
     * @return the options with that
     */
    public WebOptions signing(ApprovalKeys with) {
        return new WebOptions(Optional.of(with), largest, wording);
    }

    /**
     * Deletes in chunks what is larger.
     *
     * @param records how many records one transaction may delete
     * @return the options with that
     */
    public WebOptions inChunksBeyond(long records) {
        return new WebOptions(keys, records, wording);
    }

    /**
     * Puts questions, what the dialog says and what went wrong in other words.
     *
     * @param words finds them, given the languages that a request accepts, the best first
     * @return the options with that
     */
    public WebOptions speaking(Function<List<Locale>, Wording> words) {
        return new WebOptions(keys, largest, words);
    }
}
