package dev.vacancy.internal.restoring;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.rule.SoftDelete;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Finds soft-deleted records, with what the trail knows of each. */
final class DeletedRecords {
    private static final long SECONDS_OF_A_DAY = 24 * 60 * 60;

    private final Rules rules;
    private final Clock clock;
    private final Planning planning;
    private final Optional<TrailStore> trail;
    private final BiFunction<Table, Key, Optional<String>> spelling;

    /**
     * Finds nothing yet.
     *
     * @param planning reads records as they are now
     * @param trail the trail, where there is one
     * @param spelling spells a key as the trail does; empty if no record has it
     */
    DeletedRecords(
            Rules rules,
            Clock clock,
            Planning planning,
            Optional<TrailStore> trail,
            BiFunction<Table, Key, Optional<String>> spelling) {
        this.rules = rules;
        this.clock = clock;
        this.planning = planning;
        this.trail = trail;
        this.spelling = spelling;
    }

    /** Lists them. */
    List<DeletedRecord> of(HistoryQuery query, Optional<Predicate<RecordContent>> mayKnow) {
        Table asked = rules.catalog().table(query.table().orElseThrow());
        Criteria active = rules.active(asked)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.RULES,
                        "Records of " + asked + " are never soft-deleted: the table has no marker.",
                        "Ask the history for those that are gone."));
        Condition inactive = rules.softness()
                .markers()
                .get(asked)
                .deleted(asked)
                .map(criteria -> Resolution.of(criteria, asked, rules.catalog(), clock))
                .orElseGet(() -> new Condition.Except(Resolution.of(active, asked, rules.catalog(), clock)));
        List<RecordContent> records = planning.reader().first(asked, inactive, query.skipped(), query.most(), mayKnow);
        Map<Key, TrailRun> last = lastMarks(asked, records);
        List<DeletedRecord> deleted = new ArrayList<>();
        for (RecordContent record : records) {
            Optional<TrailRun> run = Optional.ofNullable(last.get(record.key()));
            Optional<Instant> at = run.map(TrailRun::at).or(() -> since(asked, record));
            deleted.add(new DeletedRecord(
                    record, run.map(TrailRun::runId), run.map(TrailRun::by), at, daysLeft(asked, at)));
        }
        return deleted;
    }

    private Map<Key, TrailRun> lastMarks(Table table, List<RecordContent> records) {
        Map<Key, TrailRun> last = new HashMap<>();
        trail.ifPresent(store -> records.forEach(record -> spelling.apply(table, record.key())
                .flatMap(text -> lastMark(store, table, text))
                .ifPresent(mark -> last.put(record.key(), mark))));
        return last;
    }

    private static Optional<TrailRun> lastMark(TrailStore store, Table table, String key) {
        return store.mentions(table.name(), List.of(key), false).stream()
                .filter(mention ->
                        mention.action() == Action.MARKED && mention.key().equals(key))
                .flatMap(mention -> store.run(mention.reference().run()).stream())
                .max(Comparator.comparing(StoredRun::place))
                .map(PublicForm::run);
    }

    private Optional<Instant> since(Table table, RecordContent record) {
        RowMarker marker = rules.softness().markers().get(table);
        if (marker instanceof LatestRow latest) {
            Condition closing = Closings.of(record, table, latest, rules, clock);
            return planning.reader().first(table, closing, 0, 1, Optional.empty()).stream()
                    .map(row -> row.values().get(table.column(latest.column()).name()))
                    .flatMap(value -> instant(value).stream())
                    .findFirst();
        }
        Optional<String> column = marker instanceof RowMarker.Flag
                ? Optional.ofNullable(rules.softness().tables().get(table)).flatMap(SoftDelete::timeColumn)
                : Optional.of(marker.column());
        return column.map(table::column)
                .map(Column::name)
                .map(name -> record.values().get(name))
                .flatMap(this::instant);
    }

    private Optional<Instant> instant(Object value) {
        return Stream.of(value)
                .map(time -> {
                    if (time instanceof LocalDate date) {
                        return date.atStartOfDay(clock.getZone()).toInstant();
                    }
                    if (time instanceof LocalDateTime local) {
                        return local.atZone(clock.getZone()).toInstant();
                    }
                    return time instanceof OffsetDateTime offset ? offset.toInstant() : null;
                })
                .filter(Objects::nonNull)
                .findFirst();
    }

    private Optional<Long> daysLeft(Table table, Optional<Instant> at) {
        return at.flatMap(since -> rules.keptUntil(table, since.atZone(clock.getZone())))
                .map(end ->
                        Math.max(0, ChronoUnit.SECONDS.between(clock.instant().atZone(clock.getZone()), end)))
                .map(seconds -> (seconds + SECONDS_OF_A_DAY - 1) / SECONDS_OF_A_DAY);
    }
}
