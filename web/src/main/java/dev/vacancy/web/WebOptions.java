package dev.vacancy.web;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.wording.Wording;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

/**
 * What a {@link DeletionServlet} offers besides.
 *
 * @param keys what approvals are signed with, so that they can travel; empty for none that do
 * @param largest of more records than these a deletion becomes a bulk run
 * @param challenge what is sent with 401 as WWW-Authenticate (RFC 9110, section 11.6.1); Basic opens the browser's own window
 * @param patience for how long nobody may have worked on a running bulk run until this servlet's workers take it over
 * @param wording finds the words of questions, dialogs and failures, given the languages that a request accepts
 * @since 0.1
 */
public record WebOptions(
        Optional<ApprovalKeys> keys,
        long largest,
        String challenge,
        Duration patience,
        Function<List<Locale>, Wording> wording) {
    private static final Duration USUAL_PATIENCE = Duration.ofMinutes(1);
    private static final long USUAL_LARGEST = 100_000;
    private static final String USUAL_CHALLENGE = "Application realm=\"Vacancy\"";

    /**
     * Returns what is usual.
     *
     * @return no signed approvals, bulk runs beyond 100,000 records that are taken over after a minute, questions in the languages that there are
     */
    public static WebOptions defaults() {
        return new WebOptions(Optional.empty(), USUAL_LARGEST, USUAL_CHALLENGE, USUAL_PATIENCE, Wording::firstOf);
    }

    /**
     * Signs approvals, so that they are redeemed once, and a colleague can agree.
     *
     * @param with the keys
     * @return the options with that
     */
    public WebOptions signing(ApprovalKeys with) {
        return new WebOptions(Optional.of(with), largest, challenge, patience, wording);
    }

    /**
     * Deletes in chunks what is larger.
     *
     * @param records how many records one transaction may delete
     * @return the options with that
     */
    public WebOptions inChunksBeyond(long records) {
        return new WebOptions(keys, records, challenge, patience, wording);
    }

    /**
     * Challenges whoever isn't known, in the way in which the application signs people in.
     *
     * @param with the challenge, such as {@code Bearer realm="larkmoor"}
     * @return the options with that
     */
    public WebOptions challenging(String with) {
        return new WebOptions(keys, largest, with, patience, wording);
    }

    /**
     * Takes a bulk run over that nobody works on any more, because its process died for instance.
     *
     * @param idle for how long nobody may have worked on it, longer than a chunk takes; above zero
     * @return the options with that
     */
    public WebOptions takingOverAfter(Duration idle) {
        if (idle.isZero() || idle.isNegative()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "Nobody can be waited for " + idle + ".", "Give a time above zero.");
        }
        return new WebOptions(keys, largest, challenge, idle, wording);
    }

    /**
     * Puts questions, what the dialog says and what went wrong in other words.
     *
     * @param words finds them, given the languages that a request accepts, the best first
     * @return the options with that
     */
    public WebOptions speaking(Function<List<Locale>, Wording> words) {
        return new WebOptions(keys, largest, challenge, patience, words);
    }
}
