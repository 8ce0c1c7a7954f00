package dev.vacancy.internal.engine;

import dev.vacancy.Active;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Renders which records of a table are active, in criteria and in SQL. */
public final class ActiveRecords implements Active {
    /** What a later row is called in a condition; the application's own query should call nothing so. */
    private static final String LATER = "vacancy_later";

    private final Table table;
    private final RowMarker marker;
    private final Criteria criteria;
    private final Dialect dialect;
    private final Clock clock;
    private final Optional<LocalDate> date;

    private ActiveRecords(
            Table table, RowMarker marker, Criteria criteria, Dialect dialect, Clock clock, Optional<LocalDate> date) {
        this.table = table;
        this.marker = marker;
        this.criteria = criteria;
        this.dialect = dialect;
        this.clock = clock;
        this.date = date;
    }

    static ActiveRecords of(Table table, Rules rules, Dialect dialect, Clock clock) {
        return new ActiveRecords(
                table,
                rules.softness().markers().get(table),
                rules.active(table)
                        .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.RULES,
                                "Nothing says which records of " + table + " are active.",
                                "Give the table a marker.")),
                dialect,
                clock,
                Optional.empty());
    }

    @Override
    public Criteria criteria() {
        if (date.isPresent() && marker instanceof LatestRow latest) {
            return latest.activeAsOf(table, date.get());
        }
        return date.map(day -> criteria.or(Criteria.column(marker.column())
                        .greaterThan(day)
                        .and(Criteria.column(marker.column()).lessThan(tomorrow()))))
                .orElse(criteria);
    }

    @Override
    public Active asOf(LocalDate day) {
        if (marker instanceof RowMarker.Flag) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "A flag doesn't say since when a record of " + table + " isn't active.",
                    "Mark by a timestamp, or ask the history.");
        }
        return new ActiveRecords(table, marker, criteria, dialect, clock, Optional.of(day));
    }

    @Override
    public String sql(String alias) {
        return marker instanceof LatestRow latest ? latest(alias, latest) : condition(name(alias, marker.column()));
    }

    /** The same where no table has to be named. */
    String sql() {
        if (marker instanceof LatestRow latest) {
            return latest(dialect.quote(table.storedName()), latest);
        }
        return condition(dialect.quote(table.column(marker.column()).storedName()));
    }

    private String condition(String name) {
        Column column = table.column(marker.column());
        if (marker instanceof RowMarker.Flag flag) {
            return "(" + name + " = " + literal(CatalogTable.of(table).convert(column, flag.active())) + ")";
        }
        List<String> ways = new ArrayList<>();
        if (column.nullable()) {
            ways.add(name + " is null");
        }
        if (marker instanceof RowMarker.EndDate end) {
            ways.add(name + " >= " + dateLiteral(end.never()));
        }
        date.ifPresent(
                day -> ways.add(name + " > " + dateLiteral(day) + " and " + name + " < " + dateLiteral(tomorrow())));
        return "(" + String.join(" or ", ways) + ")";
    }

    private LocalDate tomorrow() {
        return LocalDate.now(clock).plusDays(1);
    }

    private String latest(String alias, LatestRow latest) {
        String day = date.map(this::dateLiteral).orElse("");
        String closing = name(alias, latest.closing());
        String open = latest.closing(table)
                .map(value -> table.column(latest.closing()).nullable()
                        ? "(" + closing + " is null or " + closing + " <> " + literal(value) + ")"
                        : closing + " <> " + literal(value))
                .orElse(closing + " is not null");
        String begun = date.isPresent() ? " and " + name(alias, latest.column()) + " <= " + day : "";
        String same = latest.key().stream()
                .map(column -> name(LATER, column) + " = " + name(alias, column) + " and ")
                .collect(Collectors.joining());
        return "(" + open + begun + " and not exists (select 1 from " + dialect.name(table) + " as " + LATER + " where "
                + same + meant(LATER, latest) + " > " + meant(alias, latest)
                + (date.isPresent() ? " and " + name(LATER, latest.column()) + " <= " + day : "") + "))";
    }

    private String meant(String alias, LatestRow latest) {
        return dialect.codec(table.column(latest.column())).comparand(name(alias, latest.column()));
    }

    private String name(String alias, String column) {
        return alias + "." + dialect.quote(table.column(column).storedName());
    }

    private String dateLiteral(LocalDate day) {
        return dialect.dateLiteral(day);
    }

    private String literal(Object value) {
        if (value instanceof Number) {
            return value.toString();
        }
        return value instanceof Boolean truth ? dialect.truthLiteral(truth) : dialect.textLiteral(value.toString());
    }
}
