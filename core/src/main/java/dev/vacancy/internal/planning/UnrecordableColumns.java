package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import java.util.List;
import java.util.Locale;

/** Refuses to delete what couldn't be written down whole: a trail that is asked for is one from which all of it comes back. */
final class UnrecordableColumns {
    private final Rules rules;
    private final RecordStore store;

    UnrecordableColumns(Rules rules, RecordStore store) {
        this.rules = rules;
        this.store = store;
    }

    void refuse(List<Step> steps) {
        if (rules.recording().isEmpty()) {
            return;
        }
        for (Step step : steps) {
            if (!(step instanceof Step.Loosen)) {
                refuse(step.table(), store.unrecordable(rules.recording().get(), step.table(), step.condition()));
            }
        }
    }

    private static void refuse(Table table, RecordStore.Unrecordable records) {
        if (records.tooLarge() > 0) {
            throw refusal(
                    FailureCode.IMAGE_TOO_LARGE,
                    table,
                    records.tooLarge(),
                    "the server's packets are too small for it",
                    "raise max_allowed_packet, or leave its large columns out of the trail.");
        }
        if (records.notComingBack() > 0) {
            throw refusal(
                    FailureCode.IMAGE_NOT_WHOLE,
                    table,
                    records.notComingBack(),
                    "it has a value of a type that the database writes in a way that it doesn't read",
                    "leave columns of such a type out of the trail: Trail.without, or 'without' in vacancy.yaml.");
        }
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
