package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.IntStream;

/** A restore of many records can be cut into transactions, parents first, and be gone on with when it ended early. */
class RestoredInPortionsTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final By UNA = By.user("una").because("it was another hive");
    private static final int INSPECTIONS = 450;
    private static final String[] TABLES = {"hive", "inspection", "frame_check", "photo"};
    private static final RuleBook BOOK = RuleBook.bySchema()
            .trail(Trail.defaults())
            .marker("photo", Marker.timestamp("gone_at"))
            .soft("photo")
            .on("photo.hive_id", Clause.detach());

    /** A person's name must not stay in the words of a portion that the person's record isn't in. */
    @OnEveryEngine
    void anErasureLeavesNoWordsInAnyPortion(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").where(Criteria.parse("name = 'Larkmoor 1'")));
        vacancy.history().restore(approval(vacancy, gone), 200, portion -> {});

        delete(vacancy, Selection.of("hive").key(1));
        vacancy.history().erase("hive", "1", UNA);

        assertThat(vacancy.history().runs(HistoryQuery.all()).toString()).doesNotContain("Larkmoor 1");
        assertThat(database.rows("select * from vacancy_trail_run").toString()).doesNotContain("Larkmoor 1");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** A hive with inspections and the checks of their frames, and a photo that stays without it. */
    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20))",
                        "create table inspection (inspection_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table frame_check (inspection_id integer not null, frame_no integer not null,"
                                + " primary key (inspection_id, frame_no),"
                                + " foreign key (inspection_id) references inspection (inspection_id) on delete cascade)",
                        "create table photo (photo_id integer primary key, hive_id integer, gone_at timestamp null,"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "insert into hive values (1, 'Larkmoor 1'), (2, 'Larkmoor 2')",
                        "insert into photo values (5, 1, null), (6, 2, null)");
        List<String> inspections = new ArrayList<>();
        List<String> checks = new ArrayList<>();
        for (int i = 1; i <= INSPECTIONS; i++) {
            inspections.add("(" + i + ", 1)");
            checks.add("(" + i + ", 1)");
        }
        database.run("insert into inspection values " + String.join(", ", inspections));
        database.run("insert into frame_check values " + String.join(", ", checks));
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static UUID delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE))).runId();
    }

    private static Approval approval(Vacancy vacancy, UUID run) {
        return Approval.of(vacancy.history().planRestore(run, UNA));
    }

    @OnEveryEngine
    void eachPortionIsARunOfItsOwnAndAllOfThemAreTheWhole(Engine engine) {
        Database database = larkmoor(engine);
        List<String> before = database.contents(TABLES);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").key(1));
        List<RestoreOutcome> portions = new ArrayList<>();

        RestoreOutcome whole = vacancy.history().restore(approval(vacancy, gone), 300, portions::add);

        assertThat(database.contents(TABLES)).isEqualTo(before);
        assertThat(whole.counts())
                .containsOnly(Map.entry("hive", 1L), Map.entry("inspection", 450L), Map.entry("frame_check", 450L));
        assertThat(whole.putBack()).containsOnly(Map.entry("photo.hive_id", 1L));
        assertThat(portions).hasSizeGreaterThan(2);
        assertThat(vacancy.history().runs(HistoryQuery.all().ofRun(whole.runId())))
                .hasSize(portions.size())
                .allMatch(TrailRun::isRestore)
                .extracting(TrailRun::kind)
                .containsOnlyOnce("restore");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThatThrownBy(() -> vacancy.history().planRestore(gone, UNA))
                .hasMessageContaining("was undone by una")
                .hasMessageContaining(whole.runId().toString());
        assertThat(vacancy.plan(vacancy.history().undoing(whole.runId()), UNA).counts())
                .containsEntry("inspection", 450L);
    }

    @OnEveryEngine
    void oneThatEndsEarlyIsGoneOnWith(Engine engine) {
        Database database = larkmoor(engine);
        List<String> before = database.contents(TABLES);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").key(1));

        assertThatThrownBy(() -> vacancy.history().restore(approval(vacancy, gone), 300, portion -> {
                    throw new IllegalStateException("the process ends here");
                }))
                .hasMessage("the process ends here");
        long back = database.count("inspection");
        RestorePlan rest = vacancy.history().planRestore(gone, UNA);
        vacancy.history().restore(Approval.of(rest), 300, portion -> {});

        assertThat(back).isBetween(1L, 449L);
        assertThat(rest.counts())
                .containsEntry("inspection", INSPECTIONS - back)
                .doesNotContainKey("hive");
        assertThat(rest.left()).containsExactly((back + 1) + " records were brought back before.");
        assertThat(database.contents(TABLES)).isEqualTo(before);
    }

    @OnEveryEngine
    void whatComesInTheWayLaterEndsItAndChangesNoMore(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").key(1));
        List<String> after = database.contents(TABLES);
        Approval stale = approval(vacancy, gone);
        database.run("insert into inspection values (450, 2)");

        assertThatThrownBy(() -> vacancy.history().restore(stale, 300, portion -> {}))
                .isInstanceOf(StalePlanException.class);
        database.run("delete from inspection");
        assertThat(database.contents(TABLES)).isEqualTo(after);
        Approval agreed = approval(vacancy, gone);
        assertThatThrownBy(() -> vacancy.history()
                        .restore(
                                agreed,
                                300,
                                portion -> database.run("insert into inspection values (" + away(database) + ", 2)")))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining(": there is a record with this key again");
        assertThat(database.count("frame_check")).isZero();
    }

    /** An inspection that hasn't come back yet. */
    private static int away(Database database) {
        List<String> back = database.rows("select inspection_id from inspection");
        return IntStream.rangeClosed(1, INSPECTIONS)
                .filter(id -> !back.contains(String.valueOf(id)))
                .findFirst()
                .orElseThrow();
    }

    @OnEveryEngine
    void aRecordOfItsOwnComesBackInPortionsToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").keys(List.of(1, 2)));
        RestorePlan one = vacancy.history().planRestore(gone, "hive", "1", UNA);

        RestoreOutcome back = vacancy.history().restore(Approval.of(one), 200, portion -> {});

        assertThat(database.rows("select hive_id from hive")).containsExactly("1");
        assertThat(database.count("frame_check")).isEqualTo(INSPECTIONS);
        assertThat(vacancy.plan(vacancy.history().undoing(back.runId()), UNA).selected())
                .isEqualTo(1);
        assertThat(vacancy.history().planRestore(gone, UNA).counts()).containsOnly(Map.entry("hive", 1L));
    }

    @OnEveryEngine
    void tablesOfACircleComeBackTogetherAndTheRestInPortions(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, queen_id integer)",
                        "create table queen (queen_id integer primary key, hive_id integer, mother_id integer,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                                + " foreign key (mother_id) references queen (queen_id) on delete cascade)",
                        "create table reading (reading_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "insert into hive values (1, null), (2, null)",
                        "insert into queen values (1, 1, null)",
                        "insert into queen values (2, 1, 1)",
                        "insert into queen values (3, 2, 2)",
                        "alter table hive add foreign key (queen_id) references queen (queen_id)",
                        "update hive set queen_id = 1 + hive_id");
        for (int i = 0; i < INSPECTIONS; i++) {
            database.run("insert into reading values (" + i + ", 1)");
        }
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults()).on("hive.queen_id", Clause.detach());
        Ddl.of(database.source(), book).apply();
        String[] tables = {"hive", "queen", "reading"};
        List<String> before = database.contents(tables);
        Vacancy vacancy = Vacancy.over(database.source(), book);
        UUID gone = delete(vacancy, Selection.of("hive").keys(List.of(1, 2)));
        List<Map<String, Long>> portions = new ArrayList<>();

        vacancy.history().restore(approval(vacancy, gone), 1, portion -> portions.add(portion.counts()));

        assertThat(database.contents(tables)).isEqualTo(before);
        assertThat(portions).hasSizeGreaterThan(2);
        assertThat(portions).anySatisfy(portion -> assertThat(portion).containsKeys("hive", "queen"));
    }

    @OnEveryEngine
    void portionsOfNothingAndTransactionsOfTheApplicationAreRefused(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = delete(vacancy, Selection.of("hive").key(2));
        Approval approval = approval(vacancy, gone);

        assertThatThrownBy(() -> vacancy.history().restore(approval, 0, portion -> {}))
                .hasMessageContaining("A portion of 0 records");
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            connection.setTransactionIsolation(Connection.TRANSACTION_READ_COMMITTED);
            Vacancy joined = vacancy.joining(connection);
            assertThatThrownBy(() -> joined.history().restore(approval, 100, portion -> {}))
                    .hasMessageContaining("Restore in one piece, or outside of it.");
        }
    }
}
