package dev.vacancy.web;

import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.wording.Wording;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

/** What an application has given as {@link WebOptions}. */
record GivenWebOptions(
        Optional<ApprovalKeys> keys,
        long largest,
        String challenge,
        Duration patience,
        Function<List<Locale>, Wording> wording)
        implements WebOptions {
    public static final Duration USUAL_PATIENCE = Duration.ofMinutes(1);
    public static final long USUAL_LARGEST = 100_000;
    public static final String USUAL_CHALLENGE = "Application realm=\"Vacancy\"";
}
