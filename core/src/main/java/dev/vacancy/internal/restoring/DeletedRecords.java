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
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.SoftDelete;
import java.sql.Connection;
import java.sql.SQLException;
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
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Finds soft-deleted records, with what the trail knows of each. */
final class DeletedRecords {
    private static final long SECONDS_OF_A_DAY = 24 * 60 * 60;

    private final Rules rules;
    private final Dialect dialect;
    private final Planner planner;
    private final Clock clock;
    private final Optional<TrailTables> tables;

    DeletedRecords(Planner planner, Dialect dialect, Clock clock, Optional<TrailTables> tables) {
        this.rules = planner.rules();
        this.planner = planner;
        this.dialect = dialect;
        this.clock = clock;
        this.tables = tables;
    }

    /** Lists them. */
    List<DeletedRecord> of(Connection connection, HistoryQuery query, Optional<Predicate<RecordContent>> mayKnow)
            throws SQLException {
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
        List<RecordContent> records =
                planner.on(connection).reader().first(asked, inactive, query.skipped(), query.most(), mayKnow);
        Map<Key, TrailRun> last = lastMarks(connection, asked, records);
        List<DeletedRecord> deleted = new ArrayList<>();
        for (RecordContent record : records) {
            Optional<TrailRun> run = Optional.ofNullable(last.get(record.key()));
            Optional<Instant> at = run.map(TrailRun::at).or(() -> since(connection, asked, record));
            deleted.add(new DeletedRecord(
                    record, run.map(TrailRun::runId), run.map(TrailRun::by), at, daysLeft(asked, at)));
        }
        return deleted;
    }

    private Map<Key, TrailRun> lastMarks(Connection connection, Table table, List<RecordContent> records)
            throws SQLException {
        Map<Key, TrailRun> last = new HashMap<>();
        if (tables.isEmpty()) {
            return last;
        }
        CurrentRows standing = new CurrentRows(dialect, connection);
        for (RecordContent record : records) {
            Condition itself = new Condition.Among(
                    record.key().columns(), List.of(record.key().values()));
            for (List<String> key : standing.keys(table, itself)) {
                lastMark(connection, table, TrailKey.of(key)).ifPresent(mark -> last.put(record.key(), mark));
            }
        }
        return last;
    }

    /** Finds a record by its key in the spelling of the trail. */
    private Optional<TrailRun> lastMark(Connection connection, Table table, String key) throws SQLException {
        TrailTables trail = tables.orElseThrow();
        List<StoredRun> runs = new ArrayList<>();
        for (StoredEntry entry : new EntriesByKey(new EntryReader(trail)).of(connection, table.name(), key)) {
            if (entry.action() == Action.MARKED) {
                trail.run(connection, entry.run()).ifPresent(runs::add);
            }
        }
        return runs.stream().max(Comparator.comparing(StoredRun::place)).map(PublicForm::run);
    }

    private Optional<Instant> since(Connection connection, Table table, RecordContent record) {
        RowMarker marker = rules.softness().markers().get(table);
        if (marker instanceof LatestRow latest) {
            Condition closing = Closings.of(record, table, latest, rules, clock);
            return planner.on(connection).reader().first(table, closing, 0, 1, Optional.empty()).stream()
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
