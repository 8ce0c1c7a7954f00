package dev.vacancy;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.Rules;
import dev.vacancy.rule.SoftDelete;
import java.time.Clock;
import java.time.Period;
import java.time.ZonedDateTime;
import java.util.Optional;

/** Which soft-deleted records are past their retention. */
final class Expired {
    private Expired() {}

    static Selection of(Table table, Rules rules, Clock clock) {
        SoftDelete soft = rules.softness().tables().get(table);
        Period retention = Optional.ofNullable(soft)
                .flatMap(SoftDelete::retention)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.RULES,
                        "Nothing says how long deleted records of " + table + " are kept.",
                        "Give the table a retention, such as 'retention: P15D'."));
        Marker marker = rules.softness().markers().get(table);
        Optional<String> stamp = marker instanceof Marker.Flag ? soft.when() : Optional.empty();
        Column column = table.column(stamp.orElse(marker.column()));
        Object end = Marker.timeIn(column, ZonedDateTime.now(clock).minus(retention));
        return Selection.of(table.name())
                .where(marker.deletedBy(table, stamp, end))
                .purging();
    }
}
