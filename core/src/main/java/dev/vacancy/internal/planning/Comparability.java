package dev.vacancy.internal.planning;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.store.RecordStore;
import java.util.List;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * Whether the database can compare what a selection compares, and how.
 *
 * @param selection the selection
 */
record Comparability(SelectedRecords selection) {
    /** What a value is wrong in itself has this class (ISO/IEC 9075-2, section 24.1). */
    private static final String DATA_EXCEPTION = "22";

    /** PostgreSQL's states where a type has no such comparison, or no way to be taken for another. */
    private static final List<String> NO_COMPARISON = List.of("42883", "42846");

    private List<Condition.Asked> compared(Predicate<Condition.Asked> which) {
        return selection
                .picked()
                .condition()
                .asked(selection.table())
                .filter(Condition.Asked::isCompared)
                .filter(which)
                .distinct()
                .toList();
    }

    /** What a person should know of texts that count as the same. */
    List<String> warnings(RecordStore store) {
        return compared(asked -> store.foldsText(asked.column())).stream()
                .map(asked -> "The database compares " + asked
                        + " by a collation for which different texts count as the same, in another case or with other accents"
                        + " for instance. Look whether only those are selected that are meant.")
                .toList();
    }

    /** Says what is wrong with the values that were given, where it is they that the database refuses. */
    <T> T reading(Supplier<T> reading) {
        try {
            return reading.get();
        } catch (DatabaseException failure) {
            String state = failure.sqlState().orElse("");
            boolean wrong = state.startsWith(DATA_EXCEPTION);
            if (!wrong && !NO_COMPARISON.contains(state)) {
                throw failure;
            }
            InvalidRequestException refusal = wrong ? ofValue() : ofType();
            refusal.addSuppressed(failure);
            throw refusal;
        }
    }

    private InvalidRequestException ofValue() {
        return new InvalidRequestException(
                FailureCode.VALUE_TYPE,
                "For the database a value of this selection isn't one of its column: " + columns() + ".",
                "Nothing was changed. Give values that there are, dates and times as in ISO 8601.");
    }

    private InvalidRequestException ofType() {
        return new InvalidRequestException(
                FailureCode.VALUE_TYPE,
                "The database can't compare what this selection compares: " + columns() + ".",
                "Nothing was changed. Ask only whether it is null, or select by something else.");
    }

    private String columns() {
        List<Condition.Asked> all = compared(any -> true);
        return all.isEmpty()
                ? selection.table().identity().stream()
                        .map(column -> selection.table() + "." + column + " is " + ColumnType.of(column))
                        .collect(Collectors.joining(", "))
                : all.stream()
                        .map(asked -> asked + " is " + ColumnType.of(asked.column()))
                        .collect(Collectors.joining(", "));
    }
}
