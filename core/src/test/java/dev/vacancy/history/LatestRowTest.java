package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.Period;
import java.time.ZoneOffset;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** Keepers stay at one apiary after the other: the latest stay holds, and leaving appends one without an apiary. */
class LatestRowTest {
    private static final By ODILE = By.user("odile").because("moved away");
    private static final Clock MARCH = Clock.fixed(Instant.parse("2026-03-01T08:00:00Z"), ZoneOffset.UTC);
    private static final Clock APRIL = Clock.fixed(Instant.parse("2026-04-01T08:00:00Z"), ZoneOffset.UTC);
    private static final Marker STAYS = Marker.latestRow("from_date", "apiary_id", "keeper_id");
    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("keeper", Marker.timestamp("left_at"))
            .marker("stay", STAYS)
            .soft("keeper")
            .soft(
                    "stay",
                    SoftDelete.defaults().deletedBy("left_by", "left_because").keptFor(Period.ofDays(15)))
            .on("stay.keeper_id", Clause.cascade())
            .on("stay.apiary_id", Clause.cascade())
            .trail(Trail.defaults());
    private static final String STAYING =
            "select keeper_id, from_date, apiary_id, note, left_by from stay order by keeper_id, from_date";

    /** Keeper 1 has moved from apiary 7 to 8; 2 is at 7; 3 has left long ago, and 4 has never been anywhere. */
    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id integer primary key)",
                        "create table keeper (keeper_id integer primary key, left_at timestamp null)",
                        "create table stay (keeper_id integer not null, from_date date not null, apiary_id integer,"
                                + " note varchar(20) not null, left_by varchar(20), left_because varchar(40),"
                                + " primary key (keeper_id, from_date),"
                                + " foreign key (keeper_id) references keeper (keeper_id),"
                                + " foreign key (apiary_id) references apiary (apiary_id))",
                        "insert into apiary values (7), (8)",
                        "insert into keeper values (1, null), (2, null), (3, null), (4, null)",
                        "insert into stay values (1, '2024-05-01', 7, 'learns', null, null)",
                        "insert into stay values (1, '2025-05-01', 8, 'leads', null, null)",
                        "insert into stay values (2, '2025-01-01', 7, 'helps', null, null)",
                        "insert into stay values (3, '2020-01-01', 7, 'helped', null, null)",
                        "insert into stay values (3, '2021-01-01', null, 'helped', 'una', null)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Outcome delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE)));
    }

    private static RestoreOutcome restore(Vacancy vacancy, UUID run) {
        return vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
    }

    @OnEveryEngine
    void deletingAppendsAClosingRowAndARestoreTakesItAway(Engine engine) {
        Database database = larkmoor(engine);
        List<String> before = database.rows(STAYING);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        Outcome gone = delete(vacancy, Selection.of("stay").key(1, "2025-05-01"));

        assertThat(gone.counts()).containsOnly(Map.entry("stay", 1L));
        assertThat(database.rows(STAYING))
                .containsAll(before)
                .hasSize(before.size() + 1)
                .contains("1|2026-03-01|null|leads|odile");
        assertThat(vacancy.plan(Selection.of("stay").key(1, "2025-05-01"), ODILE)
                        .alreadyDeleted())
                .hasSize(1);

        restore(vacancy, gone.runId());

        assertThat(database.rows(STAYING)).isEqualTo(before);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void aKeeperWhoLeavesTakesTheLatestStayAlongAndNoHistory(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        Plan plan = vacancy.plan(Selection.of("keeper").keys(List.of(1, 2, 3, 4)), ODILE);
        Outcome gone = vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsOnly(Map.entry("keeper", 4L), Map.entry("stay", 2L));
        assertThat(plan.marked()).containsExactlyInAnyOrder("keeper", "stay");
        assertThat(database.rows("select keeper_id, from_date from stay where left_by = 'odile' order by keeper_id"))
                .containsExactly("1|2026-03-01", "2|2026-03-01");
        restore(vacancy, gone.runId());
        assertThat(database.count("stay")).isEqualTo(5);
        assertThat(database.count("keeper where left_at is null")).isEqualTo(4);
    }

    @OnEveryEngine
    void activeReadsSeeTheLatestRowsNowAndOnADay(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);
        var active = vacancy.active("stay");
        var then = active.asOf(LocalDate.of(2024, 12, 31));

        assertThat(database.rows("select s.keeper_id, s.apiary_id from stay s where " + active.sql("s")
                        + " order by s.keeper_id"))
                .containsExactly("1|8", "2|7");
        assertThat(database.rows("select keeper_id, apiary_id from active_stay order by keeper_id"))
                .containsExactly("1|8", "2|7");
        assertThat(database.rows("select s.keeper_id, s.apiary_id from stay s where " + then.sql("s")))
                .containsExactly("1|7");
        assertThat(vacancy.plan(Selection.of("stay").where(active.criteria()), ODILE)
                        .selected())
                .isEqualTo(2);
        assertThat(vacancy.plan(Selection.of("stay").where(then.criteria()).hard(), ODILE)
                        .selected())
                .isEqualTo(1);
    }

    @OnEveryEngine
    void whoHasLeftIsListedOnceAndPurgedWithAllHistory(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy march = Vacancy.over(database.source(), BOOK, MARCH);
        Outcome gone = delete(march, Selection.of("stay").key(1, "2025-05-01"));
        Vacancy april = Vacancy.over(database.source(), BOOK, APRIL);

        assertThat(march.history().deleted("stay", 10))
                .extracting(deleted -> deleted.record().key().text(), deleted -> deleted.at())
                .containsExactly(
                        tuple("keeper_id=1,from_date=2025-05-01", Optional.of(MARCH.instant())),
                        tuple("keeper_id=3,from_date=2020-01-01", Optional.of(Instant.parse("2021-01-01T00:00:00Z"))));
        assertThat(march.plan(march.pastRetention("stay"), ODILE).counts()).containsOnly(Map.entry("stay", 2L));

        delete(april, april.pastRetention("stay"));

        assertThat(database.rows(STAYING)).containsExactly("2|2025-01-01|7|helps|null");
        assertThatThrownBy(() -> Approval.of(april.history().planRestore(gone.runId(), ODILE)))
                .hasMessageContaining("it is gone for good");
    }

    @OnEveryEngine
    void whoHasReturnedIsNeitherClosedByARestoreNorPurged(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);
        Outcome gone = delete(vacancy, Selection.of("stay").key(1, "2025-05-01"));
        database.run("insert into stay values (1, '2026-03-15', 7, 'is back', null, null)");
        Vacancy april = Vacancy.over(database.source(), BOOK, APRIL);

        RestorePlan plan = april.history().planRestore(gone.runId(), ODILE);

        assertThat(plan.counts()).isEmpty();
        assertThat(plan.left())
                .containsExactly("stay 1,2025-05-01 stays as it is: it was deleted anew, or brought back, since.");
        assertThat(april.plan(april.pastRetention("stay"), ODILE).counts()).containsOnly(Map.entry("stay", 2L));
        assertThat(april.history().deleted("stay", 10)).hasSize(1);
    }

    @OnEveryEngine
    void historyIsNotBroughtToLifeByDeletingTheLatestForGood(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        assertThatThrownBy(() ->
                        vacancy.plan(Selection.of("stay").key(1, "2025-05-01").hard(), ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("1 older row of stay would become the latest of its key");
        assertThatThrownBy(() -> vacancy.plan(Selection.of("apiary").key(8), ODILE))
                .hasMessageContaining("1 older row of stay would become the latest of its key");
        assertThat(delete(vacancy, Selection.of("stay").key(1, "2024-05-01").hard())
                        .counts())
                .containsOnly(Map.entry("stay", 1L));
        assertThat(delete(vacancy, Selection.of("keeper").key(3).hard()).counts())
                .containsEntry("stay", 2L);
    }

    @OnEveryEngine
    void aStayThatBeginsTodayCannotBeClosedToday(Engine engine) {
        Database database = larkmoor(engine);
        database.run("insert into stay values (4, '2026-03-01', 7, 'is new', null, null)");
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        assertThatThrownBy(() -> vacancy.plan(Selection.of("keeper").key(4), ODILE))
                .hasMessageContaining(
                        "A row that closes a record of stay has to begin after it, and 1 begins at 2026-03-01 or later");
    }

    @OnEveryEngine
    void rowsThatTheDatabaseNumbersAndAClosingWordWorkToo(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table siting (siting_id " + numbered(engine)
                                + ", hive_code varchar(10) not null, since timestamp"
                                + (engine == Engine.MARIADB ? "(6)" : "") + " not null,"
                                + " state varchar(10), unique (hive_code, since))",
                        "insert into siting (hive_code, since, state) values ('L-1', '2026-02-01 10:00:00', 'placed')",
                        "insert into siting (hive_code, since, state) values ('L-1', '2026-03-01T07:59:59', null)");
        RuleBook book = RuleBook.bySchema()
                .marker("siting", Marker.latestRow("since", "state", "gone", List.of("hive_code")))
                .soft("siting")
                .trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book, MARCH);

        Outcome gone = delete(vacancy, Selection.of("siting").key(2));

        assertThat(database.rows("select siting_id, hive_code, state from siting order by siting_id"))
                .containsExactly("1|L-1|placed", "2|L-1|null", "3|L-1|gone");
        assertThat(database.count("active_siting")).isZero();
        restore(vacancy, gone.runId());
        assertThat(database.rows("select siting_id from active_siting")).containsExactly("2");
    }

    @OnEveryEngine
    void aBulkRunPurgesRowsWhoseNumbersDoNotFollowTheirTimes(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table siting (siting_id " + numbered(engine) + ", hive_id integer not null,"
                                + " since date not null, apiary_id integer, unique (hive_id, since))",
                        "insert into siting values (1, 5, '2025-03-01', null), (2, 5, '2025-02-01', 7), (3, 5, '2025-01-01', 8)",
                        "insert into siting values (4, 6, '2025-03-01', 7), (5, 6, '2025-02-01', null), (6, 6, '2025-01-01', 8)");
        RuleBook book = RuleBook.bySchema()
                .marker("siting", Marker.latestRow("since", "apiary_id", "hive_id"))
                .soft("siting", SoftDelete.defaults().keptFor(Period.ofDays(15)));
        Vacancy vacancy = Vacancy.over(database.source(), book, MARCH);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkOptions one = BulkOptions.defaults().chunk(1);

        BulkRun run =
                vacancy.bulk().start(Approval.inChunks(vacancy.plan(vacancy.pastRetention("siting"), ODILE)), one);
        BulkRun end = vacancy.bulk().work(run.runId(), one, Exemption.none(), soFar -> {});

        assertThat(end.done()).isEqualTo(3);
        assertThat(database.rows("select siting_id from siting order by siting_id"))
                .containsExactly("4", "5", "6");
    }

    @OnEveryEngine
    void ofManyWhoCloseTheSameRowOneDoes(Engine engine) throws Exception {
        String fine = engine == Engine.MARIADB ? "(6)" : "";
        Database database = engine.database()
                .run(
                        "create table siting (hive_id integer not null, since timestamp" + fine
                                + " not null, apiary_id integer, primary key (hive_id, since))",
                        "insert into siting values (5, '2025-03-01 10:00:00', 7)");
        RuleBook book = RuleBook.bySchema()
                .marker("siting", Marker.latestRow("since", "apiary_id", "hive_id"))
                .soft("siting")
                .trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);
        Plan plan = vacancy.plan(Selection.of("siting").key(5, "2025-03-01T10:00:00"), ODILE);
        ExecutorService threads = Executors.newFixedThreadPool(8);
        List<Callable<Outcome>> runs = Collections.nCopies(8, () -> vacancy.run(Approval.of(plan)));

        long done = 0;
        for (Future<Outcome> run : threads.invokeAll(runs)) {
            try {
                done += run.get().counts().getOrDefault("siting", 0L);
            } catch (ExecutionException refused) {
                assertThat(refused.getCause()).isInstanceOfAny(StalePlanException.class, LockedException.class);
            }
        }
        threads.shutdown();

        assertThat(done).isEqualTo(1);
        assertThat(database.count("siting")).isEqualTo(2);
        assertThat(database.count("vacancy_trail_entry")).isEqualTo(1);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    private static String numbered(Engine engine) {
        return switch (engine) {
            case SQLITE -> "integer primary key autoincrement";
            case MARIADB -> "integer auto_increment primary key";
            default -> "integer generated by default as identity primary key";
        };
    }

    @OnEveryEngine
    void tablesWhoseRowsHaveNoOrderAreRefused(Engine engine) {
        Database database = larkmoor(engine)
                .run("create table note (note_id integer primary key, keeper_id integer not null, from_date date,"
                        + " written date not null, apiary_id integer not null, unique (keeper_id, written))");

        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema()
                                .marker("note", Marker.latestRow("from_date", "apiary_id", "keeper_id"))
                                .marker("apiary", Marker.latestRow("apiary_id", "apiary_id", "apiary_id"))))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("note.from_date may be null, and rows without it would follow no other")
                .hasMessageContaining("apiary.apiary_id is");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema().marker("note", Marker.latestRow("written", "apiary_id", "keeper_id"))))
                .hasMessageContaining(
                        "a closing row of note would have the same unique note_id as the row that it closes");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema().marker("stay", Marker.latestRow("from_date", "note", "keeper_id"))))
                .hasMessageContaining("stay.note may not be null, so nothing would tell a closing row");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema().marker("stay", Marker.latestRow("from_date", "note", "apiary_id"))))
                .hasMessageContaining("apiary_id may be null");
    }
}
