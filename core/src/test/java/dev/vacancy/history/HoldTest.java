package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What somebody holds neither goes nor changes, by whatever door. */
class HoldTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final By TAM = By.user("tam").because("court case 7");

    private static Database hives(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20))",
                        "create table photo (photo_id integer primary key, hive_id integer,"
                                + " foreign key (hive_id) references hive (hive_id) on delete set null)",
                        "insert into hive values (1, 'Fellside One'), (2, 'Fellside Two'), (3, 'Bramble')",
                        "insert into photo values (100, 1), (200, 2)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Vacancy vacancy(Database database) {
        return Vacancy.over(database.source(), BOOK);
    }

    private static UUID delete(Vacancy vacancy, int key) {
        return vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(key), ODILE)))
                .runId();
    }

    private static void assertHeld(Vacancy vacancy, int key) {
        assertThatThrownBy(() -> delete(vacancy, key))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("held by tam: court case 7");
    }

    @OnEveryEngine
    void emptyingATableKeepsToAHold(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        EmptyingPlan before = vacancy.plan(Emptying.of("photo"), ODILE);
        Approval approval = Approval.of(before);
        UUID hold = vacancy.history().hold("photo", "photo_id = 100", TAM);

        EmptyingPlan plan = vacancy.plan(Emptying.of("photo"), ODILE);

        assertThat(plan.holds())
                .singleElement()
                .satisfies(held -> assertThat(held.count()).isEqualTo(1));
        assertThatThrownBy(() -> Approval.of(plan))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("Emptying photo is blocked. 1 record of photo is held by tam: court case 7");
        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(BlockedException.class);
        assertThat(database.count("photo")).isEqualTo(2);
        vacancy.history().lift(hold, TAM);
        assertThat(vacancy.run(approval).total()).isEqualTo(2);
    }

    @OnEveryEngine
    void aHeldChildIsNotDetached(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.history().hold("photo", "photo_id = 100", TAM);

        assertHeld(vacancy, 1);

        delete(vacancy, 2);
        assertThat(database.rows("select hive_id from photo order by photo_id")).containsExactly("1", "null");
    }

    /** Those that met the criteria when it was placed, whatever they hold by now and whatever their key is called. */
    @OnEveryEngine
    void whatIsHeldStaysHeldThoughItChanges(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.history().hold("hive", "name like 'Fell%'", TAM);
        database.run(
                "update hive set name = 'Heather' where hive_id = 1",
                "update hive set name = 'Fellside Three' where hive_id = 3");

        assertHeld(vacancy, 1);
        assertHeld(vacancy, 2);
        delete(vacancy, 3);

        database.run("alter table hive rename column hive_id to hive_no");
        assertHeld(vacancy(database), 1);
        assertThat(vacancy(database).history().verify(Optional.empty()).faults())
                .isEmpty();
    }

    @OnEveryEngine
    void aStandingHoldIsOnWhateverComesToMeetIt(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        assertThatThrownBy(() -> vacancy.history().hold("hive", "name = 'Heather'", TAM))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("none would be held");
        UUID hold = vacancy.history().standingHold("hive", "name = 'Heather'", TAM);
        database.run("update hive set name = 'Heather' where hive_id = 3");

        assertHeld(vacancy, 3);

        assertThat(vacancy.history().holds()).singleElement().satisfies(run -> {
            assertThat(run.runId()).isEqualTo(hold);
            assertThat(run.isStanding()).isTrue();
        });
        vacancy.history().lift(hold, TAM);
        delete(vacancy, 3);
    }

    /** On SQLite there is one writer at a time, so that nobody can place one meanwhile. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL", "MARIADB"})
    void aHoldThatIsPlacedWhileARunIsUnderWayComesFirst(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        Vacancy other = vacancy(database);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        Reporting meanwhile = Reporting.none()
                .onRecord((record, connection) -> other.history().standingHold("hive", "hive_id = 1", TAM));

        assertThatThrownBy(() -> vacancy.run(approval, meanwhile))
                .isInstanceOf(LockedException.class)
                .hasMessageContaining("put records of hive on hold while this was under way")
                .extracting(failure -> ((LockedException) failure).code())
                .isEqualTo(FailureCode.TRY_AGAIN);

        assertThat(database.count("hive")).isEqualTo(3);
        assertHeld(vacancy, 1);
        delete(vacancy, 2);
    }

    @OnEveryEngine
    void whatIsToldOfAHeldRecordIsNeitherErasedNorAged(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        UUID first = delete(vacancy, 1);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(first, ODILE)));
        delete(vacancy, 3);
        UUID hold = vacancy.history().hold("hive", "hive_id = 1", TAM);

        assertThat(vacancy.history().prune(Instant.now(), By.program("night shift")))
                .isZero();
        assertThat(vacancy.history().erase("hive", "3", ODILE)).isEqualTo(1);
        database.run("delete from hive where hive_id = 1");
        assertThatThrownBy(() -> vacancy.history().erase("hive", "1", ODILE)).hasMessageContaining("1 is one of them");

        vacancy.history().lift(hold, TAM);
        assertThat(vacancy.history().erase("hive", "1", ODILE)).isPositive();
        assertThat(vacancy.history().prune(Instant.now(), By.program("night shift")))
                .isEqualTo(7);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::kind)
                .isEqualTo(List.of("ageing"));
    }

    /** A photo that is held was detached from the hive, and the trail tells what it was before. */
    @OnEveryEngine
    void whatWentWithARecordIsNotErasedIfItIsHeld(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        delete(vacancy, 1);
        UUID hold = vacancy.history().hold("photo", "photo_id = 100", TAM);

        assertThatThrownBy(() -> vacancy.history().erase("hive", "1", ODILE))
                .hasMessageContaining("Some of what went with 1 are among them");

        assertThat(database.rows("select count(*) from vacancy_trail_entry where erased_by is not null"))
                .containsExactly("0");
        vacancy.history().lift(hold, TAM);
        assertThat(vacancy.history().erase("hive", "1", ODILE))
                .as("of the hive, and of the photo that was detached")
                .isEqualTo(2);
    }
}
