package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.ServerRule;
import dev.vacancy.rule.Trail;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import javax.sql.DataSource;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.postgresql.ds.PGSimpleDataSource;

/** Hives here, and their readings partly on another server: deletions that no commit spans, where the rules allow them. */
class PartByPartTest {
    private static final By NIGHTLY = By.program("nightly");
    private static final int HIVES = 6;
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive_id", "hive")
            .on("reading.hive_id", Clause.cascade())
            .servers(ServerRule.PART_BY_PART);

    private static final RuleBook KEPT = RULES.trail(Trail.defaults());

    private static PostgresCluster near;
    private static PostgresCluster far;

    private DataSource here;
    private DataSource there;

    @BeforeAll
    static void startServers() {
        near = PostgresCluster.startPrimary();
        far = PostgresCluster.startPrimary();
    }

    @AfterAll
    static void stopServers() {
        near.close();
        far.close();
    }

    @BeforeEach
    void fill() {
        String elsewhere = far.emptyDatabase();
        there = far.primary(elsewhere);
        here = near.primary(near.emptyDatabase());
        Servers.execute(there, "create table reading_old (reading_id int, hive_id int)");
        Servers.execute(
                here,
                "create extension postgres_fdw",
                "create server elsewhere foreign data wrapper postgres_fdw options (host '127.0.0.1', port '"
                        + far.port() + "', dbname '" + elsewhere + "')",
                "create user mapping for current_user server elsewhere options (user 'postgres')",
                "create table hive (hive_id int primary key, name varchar(40))",
                "create table note (note_id int primary key, hive_id int references hive on delete cascade)",
                "create table reading (reading_id int, hive_id int) partition by range (reading_id)",
                "create table reading_new partition of reading for values from (100) to (200)",
                "create foreign table reading_old partition of reading for values from (0) to (100) server elsewhere",
                "insert into hive select n, 'hive ' || n from generate_series(1, " + HIVES + ") n",
                "insert into note select n, n from generate_series(1, " + HIVES + ") n",
                "insert into reading select n, n from generate_series(1, " + HIVES + ") n",
                "insert into reading select 100 + n, n from generate_series(1, " + HIVES + ") n");
        Ddl.of(here, RULES, Ddl.Part.BULK_RUNS).apply();
    }

    @Test
    void aBulkRunDeletesThemPartByPartAndNothingElseDoes() {
        Vacancy vacancy = Vacancy.over(here, RULES);
        Plan plan = vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY);

        assertThat(plan.onOtherServers()).containsExactly("reading");
        assertThat(plan.warnings()).anyMatch(warning -> warning.contains("goes part by part"));
        refused(() -> Approval.of(plan));
        refused(() -> vacancy.delete(Selection.of("hive").key(1), NIGHTLY));
        Ddl.of(here, KEPT).apply();
        refused(() -> Vacancy.over(here, KEPT).plan(Selection.of("hive").key(1), NIGHTLY));
        assertThat(Vacancy.check(here, RULES)).noneMatch(finding -> finding.kind() == Finding.Kind.SEVERAL_SERVERS);

        BulkRun run = vacancy.bulk().work(start(vacancy, plan));

        assertThat(run.state()).isEqualTo(BulkState.DONE);
        assertThat(run.done()).isEqualTo(3);
        assertThat(run.deleted()).isEqualTo(12);
        assertThat(left()).containsExactly("3", "3", "6", "3");
    }

    @Test
    void whatWasDoneElsewhereIsToldWhereTheRestFails() {
        Servers.execute(
                here,
                "create function refuse() returns trigger language plpgsql as $$ begin raise exception 'not hive 2'; end $$",
                "create trigger kept before delete on hive for each row when (old.hive_id = 2) execute function refuse()");
        Vacancy vacancy = Vacancy.over(here, RULES);

        BulkRun run = vacancy.bulk()
                .work(start(vacancy, vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY)));

        assertThat(run.done()).isEqualTo(2);
        assertThat(left()).containsExactly("4", "4", "6", "3");
        FailedRecord two = vacancy.bulk().failures(run.runId(), 10).get(0);
        assertThat(two.key()).isEqualTo("2");
        assertThat(two.reason())
                .contains("6 of reading below it and 2 others are gone", "not hive 2")
                .doesNotContain("Nothing was changed");
    }

    @Test
    void whoComesAfterACrashGoesOn() {
        int statement = 1;
        for (boolean reached = true; reached; statement += 5) {
            fill();
            AtomicBoolean armed = new AtomicBoolean();
            AtomicBoolean cut = new AtomicBoolean();
            DataSource interrupted = Interrupted.beforeStatement(statement, here, armed::get, () -> {
                cut.set(true);
                Servers.execute(
                        here,
                        "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()");
            });
            Vacancy vacancy = Vacancy.over(interrupted, RULES);
            UUID run = start(vacancy, vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY));
            armed.set(true);
            try {
                vacancy.bulk().work(run);
            } catch (VacancyException lost) {
                assertThat(lost.code())
                        .isIn(FailureCode.DATABASE, FailureCode.COMMIT_REFUSED, FailureCode.OUTCOME_UNKNOWN);
            }
            reached = cut.get();

            BulkRun end = Vacancy.over(here, RULES).bulk().work(run);

            assertThat(end.state()).isEqualTo(BulkState.DONE);
            assertThat(end.done()).as("statement %s", statement).isEqualTo(3);
            assertThat(left()).containsExactly("3", "3", "6", "3");
        }
        assertThat(statement).isGreaterThan(30);
    }

    @Test
    void whatACommitHereDoesntKnowOfIsNeverToldAsUnchanged() {
        // The other server is still at its commit when the connection to this one is cut.
        Servers.execute(
                there,
                "create function doze() returns trigger language plpgsql as $$ begin perform pg_sleep(1); return null; end $$",
                "create constraint trigger slow after delete on reading_old deferrable initially deferred for each row"
                        + " execute function doze()");
        AtomicBoolean armed = new AtomicBoolean();
        AtomicReference<DataSource> reachable = new AtomicReference<>(here);
        Vacancy vacancy = Vacancy.over(
                Interrupted.beforeWrittenCommit(reachable::get, armed::get, () -> {
                    reachable.set(nowhere());
                    cutSoon();
                }),
                RULES);
        UUID run = start(vacancy, vacancy.plan(Selection.of("hive").key(1), NIGHTLY));
        armed.set(true);

        assertThatThrownBy(() -> vacancy.bulk().work(run, BulkOptions.defaults(), Exemption.none(), progress -> {}))
                .isInstanceOf(VacancyException.class)
                .hasMessageNotContaining("Nothing was changed");
        Servers.awaitValue(there, "select count(*) from reading_old where hive_id = 1", "0");

        reachable.set(here);
        vacancy.bulk().pause(run);
        assertThat(vacancy.bulk().failures(run, 10))
                .containsExactly(new FailedRecord(
                        "1", true, "reading on other servers was begun; the rest is still to be done"));
        vacancy.bulk().resume(run);
        assertThat(vacancy.bulk().work(run).done()).isEqualTo(1);
        assertThat(left()).containsExactly("5", "5", "10", "5");
    }

    private static DataSource nowhere() {
        PGSimpleDataSource source = new PGSimpleDataSource();
        source.setServerNames(new String[] {"127.0.0.1"});
        source.setPortNumbers(Program.freePorts(1));
        return source;
    }

    private void cutSoon() {
        Thread cutting = new Thread(
                () -> Servers.execute(
                        here,
                        "select pg_sleep(0.5)",
                        "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()"));
        cutting.start();
    }

    /** Hives, their notes, their readings, and those of them that lie elsewhere. */
    private List<String> left() {
        return List.of("hive", "note", "reading", "reading_old").stream()
                .map(table ->
                        Servers.value(table.equals("reading_old") ? there : here, "select count(*) from " + table))
                .toList();
    }

    private static UUID start(Vacancy vacancy, Plan plan) {
        return vacancy.bulk()
                .start(Approval.inChunks(plan), BulkOptions.defaults())
                .runId();
    }

    private static void refused(ThrowingCallable attempt) {
        assertThatThrownBy(attempt)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.SEVERAL_SERVERS))
                .hasMessageContaining("of reading lie on other servers");
    }
}
