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
 * @since 0.1
 */
public sealed interface WebOptions permits GivenWebOptions {
    /** {@return what approvals are signed with, so that they can travel; empty for none that do} */
    Optional<ApprovalKeys> keys();

    /** {@return of more records than these a deletion becomes a bulk run} */
    long largest();

    /** {@return what is sent with 401 as WWW-Authenticate (RFC 9110, section 11.6.1); Basic opens the browser's own window} */
    String challenge();

    /** {@return for how long nobody may have worked on a running bulk run until this servlet's workers take it over} */
    Duration patience();

    /** {@return finds the words of questions, dialogs and failures, given the languages that a request accepts} */
    Function<List<Locale>, Wording> wording();

    /**
     * Returns what is usual.
     *
     * @return no signed approvals, bulk runs beyond 100,000 records that are taken over after a minute, questions in the languages that there are
     */
    static WebOptions defaults() {
        return new GivenWebOptions(
                Optional.empty(),
                GivenWebOptions.USUAL_LARGEST,
                GivenWebOptions.USUAL_CHALLENGE,
                GivenWebOptions.USUAL_PATIENCE,
                Wording::firstOf);
    }

    /**
     * Signs approvals, so that they are redeemed once, and a colleague can agree.
     *
     * @param with the keys
     * @return the options with that
     */
    default WebOptions signing(ApprovalKeys with) {
        return new GivenWebOptions(Optional.of(with), largest(), challenge(), patience(), wording());
    }

    /**
     * Deletes in chunks what is larger.
     *
     * @param records how many records one transaction may delete
     * @return the options with that
     */
    default WebOptions inChunksBeyond(long records) {
        return new GivenWebOptions(keys(), records, challenge(), patience(), wording());
    }

    /**
     * Challenges whoever isn't known, in the way in which the application signs people in.
     *
     * @param with the challenge, such as {@code Bearer realm="larkmoor"}
     * @return the options with that
     */
    default WebOptions challenging(String with) {
        return new GivenWebOptions(keys(), largest(), with, patience(), wording());
    }

    /**
     * Takes a bulk run over that nobody works on any more, because its process died for instance.
     *
     * @param idle for how long nobody may have worked on it, longer than a chunk takes; above zero
     * @return the options with that
     */
    default WebOptions takingOverAfter(Duration idle) {
        if (idle.isZero() || idle.isNegative()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "Nobody can be waited for " + idle + ".", "Give a time above zero.");
        }
        return new GivenWebOptions(keys(), largest(), challenge(), idle, wording());
    }

    /**
     * Puts questions, what the dialog says and what went wrong in other words.
     *
     * @param words finds them, given the languages that a request accepts, the best first
     * @return the options with that
     */
    default WebOptions speaking(Function<List<Locale>, Wording> words) {
        return new GivenWebOptions(keys(), largest(), challenge(), patience(), words);
    }
}
