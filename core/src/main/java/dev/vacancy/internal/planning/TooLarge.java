package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.rule.Rules;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Refuses to delete what couldn't be written down whole: a trail that is asked for is one from which all of it comes back. */
final class TooLarge {
    private final Rules rules;
    private final Lookup lookup;

    TooLarge(Rules rules, Lookup lookup) {
        this.rules = rules;
        this.lookup = lookup;
    }

    void refuse(List<Step> steps) {
        if (rules.recording().isEmpty()) {
            return;
        }
        Recorder recorder = new Recorder(rules.recording().get(), lookup.dialect());
        for (Step step : steps) {
            Optional<Fragment> tooLarge =
                    step instanceof Step.Loosen ? Optional.empty() : recorder.tooLarge(step.table());
            long count = tooLarge.isPresent() ? lookup.count(step.table(), step.condition(), tooLarge.get()) : 0;
            if (count > 0) {
                throw refusal(step.table(), count);
            }
        }
    }

    private static InvalidRequestException refusal(Table table, long count) {
        return new InvalidRequestException(
                        FailureCode.IMAGE_TOO_LARGE,
                        String.format(
                                Locale.ROOT,
                                "%,d %s of %s can't be written down whole in the audit trail: the server's packets are too small"
                                        + " for it.",
                                count,
                                count == 1 ? "record" : "records",
                                table),
                        "Nothing was changed; raise max_allowed_packet, or leave its large columns out of the trail.")
                .about("table", table);
    }
}
