package dev.vacancy.approvals;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.Outcome;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.io.IOException;
import java.net.URI;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.mariadb.jdbc.MariaDbDataSource;
import org.postgresql.ds.PGSimpleDataSource;

/** The answer to a commit is lost on its way. What is said of it is what came of it, or that nobody knows. */
class LostCommitTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook KEPT = RuleBook.bySchema().trail(Trail.defaults());
    private static final Selection HIVE = Selection.of("hive").key(1);

    /** A database behind a proxy. */
    private record Stage(Database database, CuttingProxy proxy, DataSource source) implements AutoCloseable {
        static Stage of(Engine engine, RuleBook rules) throws SQLException {
            Database database = engine.database()
                    .run(
                            "create table hive (hive_id integer primary key, name varchar(40))",
                            "create table reading (reading_id integer primary key, hive_id integer not null,"
                                    + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                            "create table note (note_id integer primary key)",
                            "insert into hive values (1, 'Fen One'), (2, 'Fen Two'), (3, 'Fen Three')",
                            "insert into reading values (10, 1), (11, 1), (12, 2)",
                            "insert into note values (1), (2)");
            Ddl.of(database.source(), rules).apply();
            try (Connection connection = database.connect()) {
                URI address = URI.create(connection
                        .getMetaData()
                        .getURL()
                        .replaceFirst("\\?.*", "")
                        .substring("jdbc:".length()));
                CuttingProxy proxy = new CuttingProxy(address.getPort());
                return new Stage(database, proxy, through(proxy, engine, address.getPath()));
            }
        }

        private static DataSource through(CuttingProxy proxy, Engine engine, String path) throws SQLException {
            String server = "localhost:" + proxy.port() + path;
            if (engine == Engine.MARIADB) {
                String name = path.substring(1);
                MariaDbDataSource source = new MariaDbDataSource("jdbc:mariadb://" + server);
                source.setUser(name);
                source.setPassword(name);
                return source;
            }
            PGSimpleDataSource source = new PGSimpleDataSource();
            source.setURL("jdbc:postgresql://" + server);
            source.setUser("postgres");
            return source;
        }

        long left(String table) {
            return database.count(table);
        }

        @Override
        public void close() throws IOException {
            proxy.close();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void whereATrailTellsTheRunIsToldAsDone(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, KEPT)) {
            Vacancy vacancy = Vacancy.over(stage.source(), KEPT);
            Approval approval = Approval.of(vacancy.plan(HIVE, ODILE));
            stage.proxy().arm();

            Outcome outcome = vacancy.run(approval);

            assertThat(stage.proxy().cuts()).isEqualTo(1);
            assertThat(outcome.counts()).containsEntry("hive", 1L).containsEntry("reading", 2L);
            assertThat(stage.left("hive")).isEqualTo(2);
            assertThat(stage.database().rows("select run_id from vacancy_trail_run where place > 0"))
                    .containsExactly(outcome.runId().toString());
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void whereNothingTellsItIsSaidThatNobodyKnows(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, RuleBook.bySchema())) {
            Vacancy vacancy = Vacancy.over(stage.source());
            Approval approval = Approval.of(vacancy.plan(HIVE, ODILE));
            stage.proxy().arm();

            assertThatThrownBy(() -> vacancy.run(approval))
                    .isInstanceOfSatisfying(OutcomeUnknownException.class, unknown -> {
                        assertThat(unknown.code()).isEqualTo(FailureCode.OUTCOME_UNKNOWN);
                        assertThat(unknown.run()).isPresent();
                        assertThat(unknown.getMessage()).doesNotContain("Nothing was changed");
                    });
            stage.proxy().arm();
            assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(2), ODILE))
                    .isInstanceOf(OutcomeUnknownException.class);
            Approval emptying = Approval.of(vacancy.plan(Emptying.of("note"), ODILE));
            stage.proxy().arm();
            assertThatThrownBy(() -> vacancy.run(emptying)).isInstanceOf(OutcomeUnknownException.class);

            assertThat(stage.left("hive")).isEqualTo(1);
            assertThat(stage.left("note")).isZero();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void whereTheDatabaseIsGoneForGoodNobodyKnowsEither(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, KEPT)) {
            Vacancy vacancy = Vacancy.over(stage.source(), KEPT);
            Approval approval = Approval.of(vacancy.plan(HIVE, ODILE));
            stage.proxy().armForGood();

            assertThatThrownBy(() -> vacancy.run(approval))
                    .isInstanceOf(OutcomeUnknownException.class)
                    .hasMessageContaining("is done, or nothing of it is");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void theTrailTellsOfAllThatItKeeps(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, KEPT)) {
            Vacancy vacancy = Vacancy.over(stage.source(), KEPT);
            stage.proxy().arm();
            UUID run = vacancy.delete(HIVE, ODILE).runId();
            stage.proxy().arm();
            RestoreOutcome back =
                    vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
            assertThat(back.counts()).containsEntry("hive", 1L);
            assertThat(stage.left("hive")).isEqualTo(3);
            stage.proxy().arm();
            UUID hold = vacancy.history().hold("hive", "hive_id = 1", ODILE.because("an inquiry"));
            assertThat(vacancy.history().holds()).hasSize(1);
            stage.proxy().arm();
            vacancy.history().lift(hold, ODILE);
            Approval emptying = Approval.of(vacancy.plan(Emptying.of("note"), ODILE));
            stage.proxy().arm();
            assertThat(vacancy.run(emptying).total()).isEqualTo(2);
            stage.proxy().arm();
            assertThat(vacancy.erase(Approval.ofErasing(
                                    vacancy.plan(Selection.of("hive").key(2).hard(), ODILE)))
                            .entries())
                    .isPositive();
            assertThat(stage.proxy().cuts()).isEqualTo(6);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void portionsErasuresAndAgeingAreToldToo(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, KEPT)) {
            Vacancy vacancy = Vacancy.over(stage.source(), KEPT);
            UUID run = vacancy.delete(HIVE, ODILE).runId();
            Approval back = Approval.of(vacancy.history().planRestore(run, ODILE));
            stage.proxy().arm();
            assertThat(vacancy.history().restore(back, 1, portion -> {}).counts())
                    .containsEntry("hive", 1L)
                    .containsEntry("reading", 2L);
            assertThat(stage.left("reading")).isEqualTo(3);
            vacancy.delete(Selection.of("hive").key(3).hard(), ODILE);
            stage.proxy().arm();
            assertThat(vacancy.history().erase("hive", "3", ODILE)).isEqualTo(1);
            stage.proxy().arm();
            assertThat(vacancy.history().prune(Instant.now(), ODILE)).isPositive();

            assertThat(stage.proxy().cuts()).isEqualTo(3);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void theLinesOfABulkRunTell(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, RuleBook.bySchema())) {
            Vacancy vacancy = Vacancy.over(stage.source());
            Ddl.of(stage.source(), Ddl.Part.BULK_RUNS).apply();
            Selection some = Selection.of("hive").where(Criteria.parse("hive_id < 3"));
            stage.proxy().arm();
            BulkRun run = vacancy.bulk().start(Approval.inChunks(vacancy.plan(some, ODILE)), BulkOptions.defaults());
            List<String> told = new ArrayList<>();
            stage.proxy().arm();

            BulkRun end = vacancy.bulk()
                    .work(run.runId(), BulkOptions.defaults().chunk(1), Exemption.none(), new BulkListener() {
                        @Override
                        public void progressed(BulkRun now) {
                            // Only what is deleted matters here.
                        }

                        @Override
                        public void deleted(List<RecordContent> records) {
                            records.forEach(record -> told.add(record.key().text()));
                        }
                    });

            assertThat(stage.proxy().cuts()).isEqualTo(2);
            assertThat(end.state()).isEqualTo(BulkState.DONE);
            assertThat(end.done()).isEqualTo(2);
            assertThat(told).containsExactly("1", "2");
            assertThat(vacancy.bulk().list()).hasSize(1);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void theRedeemedApprovalTells(Engine engine) throws Exception {
        try (Stage stage = Stage.of(engine, RuleBook.bySchema())) {
            Vacancy vacancy = Vacancy.over(stage.source());
            Approvals approvals = Approvals.of(vacancy, ApprovalKeys.signingWith("one", new byte[32]));
            Ddl.of(stage.source(), Ddl.Part.APPROVALS).apply();
            String token = approvals.issue(vacancy.plan(HIVE, ODILE));
            stage.proxy().arm();

            Receipt receipt = approvals.redeem(token, HIVE, ODILE, "yes");

            assertThat(stage.proxy().cuts()).isEqualTo(1);
            assertThat(receipt.counts()).containsEntry("hive", 1L);
            assertThat(approvals.redeem(token, HIVE, ODILE, "yes").runId()).isEqualTo(receipt.runId());
            assertThat(stage.left("hive")).isEqualTo(2);
        }
    }
}
