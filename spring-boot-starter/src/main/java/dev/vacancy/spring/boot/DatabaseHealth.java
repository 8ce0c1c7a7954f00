package dev.vacancy.spring.boot;

import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.springframework.boot.health.contributor.AbstractHealthIndicator;
import org.springframework.boot.health.contributor.Health;

/** Whether deletions can be relied on: the database has what the rules need, and is as it was at the start. */
final class DatabaseHealth extends AbstractHealthIndicator {
    /** A worker that lives has done a chunk by then. */
    private static final Duration LONGEST_CHUNK = Duration.ofMinutes(5);

    private final DataSource source;
    private final RuleBook rules;
    private final TransactionSource transactions;
    private final Vacancy vacancy;
    private final boolean followUps;

    DatabaseHealth(DataSource source, RuleBook rules, TransactionSource transactions, Vacancy vacancy) {
        super("The database can't be asked what it has");
        this.source = source;
        this.rules = rules;
        this.transactions = transactions;
        this.vacancy = vacancy;
        this.followUps = FollowUpLifecycle.isNeeded(vacancy);
    }

    @Override
    protected void doHealthCheck(Health.Builder health) {
        List<String> missing = Ddl.of(source, rules, transactions).statements();
        if (!missing.isEmpty()) {
            health.down()
                    .withDetail("missing", missing.size())
                    .withDetail("remedy", "Run what Ddl.statements() gives, or start with vacancy.schema=create.");
            return;
        }
        // A child table that came since then is in no plan.
        if (!shape(Vacancy.over(source, rules, transactions).catalog()).equals(shape(vacancy.catalog()))) {
            health.down()
                    .withDetail("catalog", "changed since the start")
                    .withDetail("remedy", "Restart the application.");
            return;
        }
        health.up();
        if (!Ddl.of(source, rules, transactions, Ddl.Part.BULK_RUNS).isNeeded()) {
            health.withDetail("bulkRunsNobodyWorksOn", idle());
        }
        if (followUps) {
            health.withDetail("followUpsFailed", vacancy.followUps().count(FollowUpState.FAILED));
        }
    }

    private long idle() {
        return vacancy.bulk().list(BulkState.RUNNING).stream()
                .filter(run -> run.idle(Instant.now()).compareTo(LONGEST_CHUNK) > 0)
                .count();
    }

    private static List<String> shape(Catalog catalog) {
        return Stream.concat(
                        catalog.tables().stream().map(table -> table.name() + columns(table)),
                        catalog.links().stream().map(Object::toString))
                .toList();
    }

    private static List<String> columns(Table table) {
        return table.columns().stream()
                .map(column -> column.name() + " " + type(column))
                .toList();
    }

    private static String type(Column column) {
        return column.typeName() + (column.nullable() ? "" : " not null");
    }
}
