package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Recorder;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Refuses to delete what couldn't be written down whole: a trail that is asked for is one from which all of it comes back. */
final class UnrecordableColumns {
    private final Rules rules;
    private final Lookup lookup;

    UnrecordableColumns(Rules rules, Lookup lookup) {
        this.rules = rules;
        this.lookup = lookup;
    }

    void refuse(List<Step> steps) {
        if (rules.recording().isEmpty()) {
            return;
        }
        Recorder recorder = new Recorder(rules.recording().get(), lookup.dialect());
        for (Step step : steps) {
            if (step instanceof Step.Loosen) {
                continue;
            }
            long large = count(step, recorder.tooLarge(step.table()));
            if (large > 0) {
                throw refusal(
                        FailureCode.IMAGE_TOO_LARGE,
                        step.table(),
                        large,
                        "the server's packets are too small for it",
                        "raise max_allowed_packet, or leave its large columns out of the trail.");
            }
            long lost = count(step, recorder.lost(step.table()));
            if (lost > 0) {
                throw refusal(
                        FailureCode.IMAGE_NOT_WHOLE,
                        step.table(),
                        lost,
                        "it has a value of a type that the database writes in a way that it doesn't read",
                        "leave columns of such a type out of the trail: Trail.without, or 'without' in vacancy.yaml.");
            }
        }
    }

    private long count(Step step, Optional<Fragment> which) {
        return which.isPresent() ? lookup.count(step.table(), step.condition(), which.get()) : 0;
    }

    private static InvalidRequestException refusal(
            FailureCode code, Table table, long count, String why, String remedy) {
        return new InvalidRequestException(
                        code,
                        String.format(
                                Locale.ROOT,
                                "%,d %s of %s can't be written down whole in the audit trail: %s.",
                                count,
                                count == 1 ? "record" : "records",
                                table,
                                why),
                        "Nothing was changed; " + remedy)
                .about("table", table);
    }
}
