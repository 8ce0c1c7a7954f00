package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.ServerRule;
import javax.sql.DataSource;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;

/** Tables whose records lie on other servers, which no commit spans. */
class ShardTest {
    private static final By NIGHTLY = By.program("nightly");
    private static final RuleBook RULES =
            RuleBook.bySchema().link("reading.hive_id", "hive").on("reading.hive_id", Clause.cascade());

    @Test
    void aPartitionedTableWithPartsElsewhereIsFoundAndNothingIsDeletedFromIt() {
        try (PostgresCluster servers = PostgresCluster.startPrimary()) {
            String there = servers.emptyDatabase();
            DataSource here = servers.primary(servers.emptyDatabase());
            Servers.execute(servers.primary(there), "create table reading_old (reading_id int, hive_id int)");
            Servers.execute(
                    here,
                    "create extension postgres_fdw",
                    "create server elsewhere foreign data wrapper postgres_fdw options (host '127.0.0.1', port '"
                            + servers.port() + "', dbname '" + there + "')",
                    "create user mapping for current_user server elsewhere options (user 'postgres')",
                    "create table hive (hive_id int primary key, name varchar(40))",
                    "create table note (note_id int primary key, hive_id int references hive on delete cascade)",
                    "create table reading (reading_id int, hive_id int) partition by range (reading_id)",
                    "create table reading_new partition of reading for values from (100) to (200)",
                    "create foreign table reading_old partition of reading for values from (0) to (100) server elsewhere",
                    "insert into hive values (1, 'one'), (2, 'two')",
                    "insert into note values (1, 1), (2, 2)",
                    "insert into reading values (1, 1), (100, 1), (2, 2)");

            refused(() -> Vacancy.over(here, RULES).plan(Selection.of("hive").key(1), NIGHTLY));
            refused(() -> Vacancy.over(here).plan(Emptying.of("reading"), NIGHTLY));
            found(here);
            assertThat(Servers.count(here, "reading")).isEqualTo(3);

            // What stays within this server is deleted as ever, and what lies elsewhere can still block.
            assertThat(Vacancy.over(here)
                            .delete(Selection.of("note").key(1), NIGHTLY)
                            .total())
                    .isEqualTo(1);
            RuleBook blocking = RuleBook.bySchema()
                    .link("reading.hive_id", "hive")
                    .on("reading.hive_id", Clause.block("it has readings"));
            assertThat(Vacancy.over(here, blocking)
                            .plan(Selection.of("hive").key(2), NIGHTLY)
                            .blockers())
                    .hasSize(1);
        }
    }

    @Test
    void aTableThatLeadsToAnotherServerIsFoundAndNothingIsDeletedFromIt() {
        try (SpiderServer server = SpiderServer.start()) {
            Servers.execute(
                    server.source(""),
                    "create database there",
                    "create table there.reading (reading_id int primary key, hive_id int, key (hive_id))",
                    "insert into there.reading values (1, 1), (2, 2)",
                    "create database here");
            DataSource here = server.source("here");
            Servers.execute(
                    here,
                    "create table hive (hive_id int primary key, name varchar(40))",
                    "create table reading (reading_id int primary key, hive_id int, key (hive_id)) engine = spider comment = '"
                            + server.leadingTo("there", "reading") + "'",
                    "insert into hive values (1, 'one'), (2, 'two')");
            assertThat(Servers.count(here, "reading")).isEqualTo(2);

            refused(() -> Vacancy.over(here, RULES).plan(Selection.of("hive").key(1), NIGHTLY));
            refused(() -> Vacancy.over(here).plan(Emptying.of("reading"), NIGHTLY));
            found(here);

            RuleBook parts = RULES.servers(ServerRule.PART_BY_PART);
            Ddl.of(here, parts, Ddl.Part.BULK_RUNS).apply();
            Vacancy allowed = Vacancy.over(here, parts);
            Approval approval =
                    Approval.inChunks(allowed.plan(Selection.of("hive").key(1), NIGHTLY));
            BulkRun run = allowed.bulk()
                    .work(allowed.bulk().start(approval, BulkOptions.defaults()).runId());
            assertThat(run.done()).isEqualTo(1);
            assertThat(Servers.rows(server.source("there"), "select hive_id from reading"))
                    .containsExactly("2");
        }
    }

    private static void found(DataSource here) {
        assertThat(Vacancy.check(here, RULES))
                .filteredOn(finding -> finding.kind() == Finding.Kind.SEVERAL_SERVERS)
                .extracting(Finding::where)
                .containsExactly("reading");
    }

    private static void refused(ThrowingCallable plan) {
        assertThatThrownBy(plan)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.SEVERAL_SERVERS))
                .hasMessageContaining("reading lie on other servers");
    }
}
