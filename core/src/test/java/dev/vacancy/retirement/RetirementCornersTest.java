package dev.vacancy.retirement;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.Permissions;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.function.Consumer;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What comes in between: others who are at it, a process that dies, tables that go on, files that were touched. */
class RetirementCornersTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema().trail(Trail.defaults());

    @TempDir
    Path folder;

    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key, wood varchar(40) not null check (wood <> ''), apiary int, unique (wood))",
                        "create table photo (photo_id int primary key, hive_id int, foreign key (hive_id) references hive (hive_id))",
                        "create index photo_by_hive on photo (hive_id)",
                        "create index hive_by_both on hive (wood, apiary)",
                        "create view oaken as select hive_id from hive where wood = 'oak'",
                        "insert into hive values (1, 'oak', 7), (2, 'pine', 8)",
                        "insert into photo values (10, 1), (11, 2)");
        Ddl.of(database.source(), RULES, Ddl.Part.RETIREMENTS).apply();
        return database;
    }

    private static List<String> contents(Database database) {
        List<String> contents =
                new ArrayList<>(database.rows("select hive_id, wood, apiary from hive order by hive_id"));
        contents.addAll(database.rows("select photo_id, hive_id from photo order by photo_id"));
        return contents;
    }

    private static Vacancy over(Database database) {
        return Vacancy.over(database.source(), RULES);
    }

    private static RetirementOutcome agreed(Vacancy vacancy, RetirementPlan plan) {
        Question question = Question.about(plan);
        return vacancy.retire(question.answer(question.typed().orElse("yes")).orElseThrow());
    }

    private static Retirement wood() {
        return Retirement.ofColumn("hive", "wood").along("oaken").keptFor(Period.ZERO);
    }

    private static Retirement hive() {
        return Retirement.ofTable("hive").along("oaken", "photo.hive_id").keptFor(Period.ZERO);
    }

    private static UUID setAside(Database database, Retirement wish) {
        Vacancy vacancy = over(database);
        return agreed(vacancy, vacancy.plan(wish, ODILE)).id();
    }

    @OnEveryEngine
    void whoeverDiesWhileSettingAsideLeavesWhatComesBack(Engine engine) {
        for (Retirement wish : List.of(wood(), hive())) {
            boolean died = true;
            for (int statements = 1; died; statements += stride(engine)) {
                Database database = larkmoor(engine);
                List<String> schema = SchemaDump.of(engine, database);
                List<String> contents = contents(database);

                died = dies(
                        DyingSource.after(statements, database.source()),
                        vacancy -> agreed(vacancy, vacancy.plan(wish, ODILE)));
                bringBackAll(database);

                assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
                assertThat(contents(database)).isEqualTo(contents);
            }
        }
    }

    @OnEveryEngine
    void whoeverDiesWhileDroppingOrReturningLeavesWhatComesBack(Engine engine) {
        for (Retirement wish : List.of(wood(), hive())) {
            boolean died = true;
            for (int statements = 1; died; statements += stride(engine)) {
                Database database = larkmoor(engine);
                List<String> schema = SchemaDump.of(engine, database);
                List<String> contents = contents(database);
                UUID id = setAside(database, wish);
                Path files = folder.resolve(engine + "-" + wish.column().isPresent() + statements);

                died = dies(
                        DyingSource.after(statements, database.source()),
                        vacancy -> agreed(vacancy, vacancy.retirements().planDrop(id, files, ODILE)));
                if (!died) {
                    died = dies(
                            DyingSource.after(statements, database.source()),
                            vacancy -> agreed(vacancy, vacancy.retirements().planReturn(id, ODILE)));
                }
                bringBackAll(database);

                assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
                assertThat(contents(database)).isEqualTo(contents);
            }
        }
    }

    /** Where all is one transaction, one moment is much like another. */
    private static int stride(Engine engine) {
        return engine == Engine.POSTGRESQL || engine == Engine.SQLITE ? 5 : 1;
    }

    private static boolean dies(DataSource source, Consumer<Vacancy> work) {
        try {
            work.accept(Vacancy.over(source, RULES));
            return false;
        } catch (VacancyException death) {
            return true;
        }
    }

    private static void bringBackAll(Database database) {
        Vacancy vacancy = over(database);
        vacancy.retirements().list().stream()
                .filter(one -> one.state() != Retired.State.RETURNED)
                .forEach(one -> agreed(vacancy, vacancy.retirements().planReturn(one.id(), ODILE)));
    }

    /** H2 renames a table under whoever is changing it, who goes on with it. */
    @ParameterizedTest
    @EnumSource(value = Engine.class, mode = EnumSource.Mode.EXCLUDE, names = "H2")
    void whoeverUsesItIsWaitedForShortlyAndNobodyBehind(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = over(database).withLimits(Limits.defaults().lockWait(Duration.ofMillis(600)));
        RetirementPlan plan = vacancy.plan(hive(), ODILE);
        try (Connection user = database.connect();
                Statement using = user.createStatement()) {
            user.setAutoCommit(false);
            using.execute("update hive set apiary = 9 where hive_id = 1");

            CompletableFuture<Throwable> refused = CompletableFuture.supplyAsync(() -> {
                try {
                    agreed(vacancy, plan);
                    return null;
                } catch (RuntimeException refusal) {
                    return refusal;
                }
            });
            while (!refused.isDone()) {
                readShortly(engine, database);
            }

            assertThat(refused.get()).isInstanceOf(LockedException.class);
            user.rollback();
        }
        assertThat(over(database).retirements().list()).isEmpty();
        assertThat(database.rows("select hive_id from oaken")).containsExactly("1");
    }

    /** A reader that would have to wait for longer than a moment is told so. */
    private static void readShortly(Engine engine, Database database) throws SQLException {
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            switch (engine) {
                case POSTGRESQL -> statement.execute("set lock_timeout = 300");
                case MARIADB -> statement.execute("set session lock_wait_timeout = 1");
                case H2 -> statement.execute("set lock_timeout 300");
                case SQLITE -> {}
            }
            statement.execute("select count(*) from photo");
        }
    }

    @OnEveryEngine
    void whatCameSinceThePlanMakesItStale(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = over(database);
        RetirementPlan plan = vacancy.plan(wood(), ODILE);
        database.run("create index hive_by_wood on hive (wood, apiary)");

        assertThatThrownBy(() -> agreed(vacancy, plan))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("hive_by_wood");
        assertThat(vacancy.retirements().list()).isEmpty();
    }

    @OnEveryEngine
    void rulesHoldsAndBulkRunsOfOursAreInTheWay(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook naming = RULES.on("photo.hive_id", Clause.cascade()).label("hive", "{wood}");
        Vacancy vacancy = Vacancy.over(database.source(), naming);
        vacancy.history().hold("hive", "hive_id = 1", ODILE.because("an inquiry"));

        RetirementPlan column = vacancy.plan(wood(), ODILE);
        RetirementPlan table = vacancy.plan(Retirement.ofTable("photo"), ODILE);

        assertThat(kindsInTheWay(column)).containsExactlyInAnyOrder(Dependent.Kind.RULE, Dependent.Kind.HOLD);
        assertThat(kindsInTheWay(table)).containsExactly(Dependent.Kind.RULE);
        assertThatThrownBy(column::refuseBlocked)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.BLOCKED));
    }

    private static List<Dependent.Kind> kindsInTheWay(RetirementPlan plan) {
        return plan.dependents().stream()
                .filter(object -> object.fate() == Fate.IN_THE_WAY)
                .map(Dependent::kind)
                .toList();
    }

    @OnEveryEngine
    void theTrailTellsOfEachStepAndVerifies(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = over(database);
        vacancy.delete(Selection.of("photo").key(10), ODILE);
        assertThat(vacancy.plan(Retirement.ofTable("photo"), ODILE).restorableEntries())
                .hasValue(1);

        UUID id = setAside(database, wood());
        agreed(
                vacancy,
                vacancy.retirements().planDrop(id, folder.resolve(engine.name()), ODILE.because("long unused")));
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));

        assertThat(over(database).history().runs(HistoryQuery.all()))
                .extracting(run -> run.kind())
                .containsExactly("return", "drop", "retirement", "deletion");
        assertThat(over(database).history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void nothingIsDroppedBeforeItsTime(Engine engine) {
        Database database = larkmoor(engine);
        UUID id = setAside(database, wood().keptFor(Period.ofDays(30)));
        Vacancy vacancy = over(database);

        assertThat(vacancy.retirements().due()).isEmpty();
        assertThat(vacancy.retirements().list().get(0).dueAt())
                .isAfter(Instant.now().plus(Duration.ofDays(29)));
        assertThatThrownBy(() -> vacancy.retirements().planDrop(id, folder, ODILE))
                .hasMessageContaining("is kept until");
    }

    @OnEveryEngine
    void filesThatWereTouchedOrAreGoneBringNothingBack(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        UUID id = setAside(database, wood());
        Vacancy vacancy = over(database);
        Path content = agreed(vacancy, vacancy.retirements().planDrop(id, folder.resolve(engine.name()), ODILE))
                .files()
                .get(1);
        String lines = Files.readString(content);

        Files.writeString(content, lines.replace("oak", "elm"));
        assertThatThrownBy(() -> vacancy.retirements().planReturn(id, ODILE)).hasMessageContaining("was changed");
        Files.delete(content);
        assertThatThrownBy(() -> vacancy.retirements().planReturn(id, ODILE)).hasMessageContaining("can't be read");

        Files.writeString(content, lines);
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));
        assertThat(database.rows("select wood from hive order by hive_id")).containsExactly("oak", "pine");
    }

    @OnEveryEngine
    void recordsThatCameMeanwhileHaveNoValue(Engine engine) {
        Database database = larkmoor(engine);
        UUID aside = setAside(database, wood());
        database.run("insert into hive (hive_id, apiary) values (3, 9)");
        Vacancy vacancy = over(database);

        RetirementPlan blocked = vacancy.retirements().planReturn(aside, ODILE);

        assertThat(blocked.isBlocked()).isTrue();
        assertThatThrownBy(blocked::refuseBlocked).hasMessageContaining("Fill hive.");
        agreed(vacancy, vacancy.retirements().planDrop(aside, folder.resolve(engine.name()), ODILE));
        RetirementOutcome back = agreed(vacancy, vacancy.retirements().planReturn(aside, ODILE));
        assertThat(back.leftOut()).singleElement().asString().contains("not null");
        assertThat(database.rows("select hive_id, wood from hive order by hive_id"))
                .containsExactly("1|oak", "2|pine", "3|null");
    }

    @OnEveryEngine
    void aForeignKeyThatRecordsNoLongerMeetIsLeftOutAndTold(Engine engine) {
        for (boolean dropped : List.of(false, true)) {
            Database database = larkmoor(engine);
            UUID id = setAside(database, Retirement.ofTable("photo").keptFor(Period.ZERO));
            database.run("delete from hive where hive_id = 1");
            Vacancy vacancy = over(database);
            if (dropped) {
                agreed(vacancy, vacancy.retirements().planDrop(id, folder.resolve(engine.name()), ODILE));
            }

            RetirementPlan plan = vacancy.retirements().planReturn(id, ODILE);
            RetirementOutcome back = agreed(vacancy, plan);

            assertThat(plan.notes()).anyMatch(note -> note.contains("is left out"));
            assertThat(back.leftOut()).singleElement().asString().contains("photo");
            assertThat(database.count("photo")).isEqualTo(2);
        }
    }

    @OnEveryEngine
    void whatTheDatabaseCountsOfItsUseIsTold(Engine engine) {
        Database database = larkmoor(engine);
        database.rows("select * from hive");

        List<String> use = over(database).plan(wood(), ODILE).use();

        boolean counted = engine == Engine.POSTGRESQL || engine == Engine.MARIADB;
        assertThat(use.get(0)).contains(counted ? "has counted" : "nobody knows");
    }

    @Test
    void aTableThatWasChangedMeanwhileIsntMadeAnewAsItWas() {
        Database database = larkmoor(Engine.SQLITE);
        UUID id = setAside(database, wood());
        database.run("alter table hive add column colour varchar(40)");

        assertThatThrownBy(() -> over(database).retirements().planReturn(id, ODILE))
                .hasMessageContaining("was changed since hive.wood went")
                .hasMessageContaining("colour");
    }

    @Test
    void whatADatabaseSetsAtEachChangeStaysWhenAColumnIsFilled() {
        Database database = larkmoor(Engine.MARIADB)
                .run(
                        "alter table hive add column seen timestamp not null default '2026-01-01 00:00:00' on update current_timestamp");
        List<String> before = database.rows("select hive_id, seen from hive order by hive_id");
        UUID id = setAside(database, wood());
        Vacancy vacancy = over(database);
        agreed(vacancy, vacancy.retirements().planDrop(id, folder, ODILE));
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));

        assertThat(database.rows("select hive_id, seen from hive order by hive_id"))
                .isEqualTo(before);
        assertThat(database.rows("select wood from hive order by hive_id")).containsExactly("oak", "pine");
    }

    @Test
    void aVirtualTableDoesNotRetire() {
        Database database = larkmoor(Engine.SQLITE).run("create virtual table note using fts5 (body)");

        assertThat(over(database).plan(Retirement.ofTable("note"), ODILE).isBlocked())
                .isTrue();
    }

    @OnEveryEngine
    void aTraceSaysWhatItCantSee(Engine engine) {
        Database database = larkmoor(engine);
        setAside(database, Retirement.ofTable("photo"));

        assertThat(over(database).trace("hive", 1).warnings())
                .anyMatch(warning -> warning.contains("photo is set aside as vacancy_aside_photo_"));
    }

    @OnEveryEngine
    void anotherOneOfItsNameIsInTheWayOfItsReturn(Engine engine) {
        Database database = larkmoor(engine);
        UUID id = setAside(database, Retirement.ofTable("photo"));
        database.run("create table photo (photo_id int primary key)");

        RetirementPlan plan = over(database).retirements().planReturn(id, ODILE);

        assertThat(plan.isBlocked()).isTrue();
        assertThatThrownBy(plan::refuseBlocked).hasMessageContaining("another one of that name");
    }

    @OnEveryEngine
    void whatCameUnderItsNameSinceThePlanStays(Engine engine) {
        Database database = larkmoor(engine);
        UUID id = setAside(database, Retirement.ofTable("photo").keptFor(Period.ZERO));
        Vacancy vacancy = over(database);
        agreed(vacancy, vacancy.retirements().planDrop(id, folder.resolve(engine.name()), ODILE));
        RetirementPlan plan = vacancy.retirements().planReturn(id, ODILE);
        database.run("create table photo (photo_id int primary key)", "insert into photo values (77)");

        assertThatThrownBy(() -> agreed(vacancy, plan)).isInstanceOf(VacancyException.class);

        assertThat(database.rows("select photo_id from photo")).containsExactly("77");
        assertThat(vacancy.retirements().list()).extracting(Retired::state).containsExactly(Retired.State.DROPPED);
    }

    @OnEveryEngine
    void whoMayNotRetireMayNotLook(Engine engine) {
        Database database = larkmoor(engine);
        setAside(database, wood());
        Permissions most = (by, act, table) -> act != Permissions.Action.RETIRE;
        Vacancy vacancy = over(database).actingFor(ODILE, most);

        assertThatThrownBy(() -> vacancy.plan(Retirement.ofTable("photo"), ODILE))
                .hasMessageContaining("may not");
        assertThat(vacancy.retirements().list()).isEmpty();
    }

    @OnEveryEngine
    void nothingRetiresInsideATransactionOfTheApplications(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        RetirementPlan plan = over(database).plan(wood(), ODILE);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = over(database).joining(connection);

            assertThatThrownBy(() -> agreed(joined, plan))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.FOREIGN_TRANSACTION));
        }
    }
}
