package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Effect;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Sample;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.rule.Rule;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButMariaDb;
import dev.vacancy.testing.OnEveryEngineButSqlite;
import dev.vacancy.testing.Schemas;
import dev.vacancy.testing.Steps;
import java.util.List;

/** What a plan says about schemas of all ordinary shapes, and that what it says is what then happens. */
class PlanTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void lookingChangesNothing(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        List<String> before = database.contents("apiary", "hive", "inspection", "frame_check");
        Vacancy vacancy = Vacancy.over(database.source());

        vacancy.plan(Selection.of("apiary").keys(List.of(1, 2)), ODILE);

        assertThat(database.contents("apiary", "hive", "inspection", "frame_check"))
                .isEqualTo(before);
    }

    @OnEveryEngine
    void thePlanShowsTheWholeRootAndSamplesOfTheRest(Engine engine) {
        Plan plan = plan(Schemas.threeLevels(engine), Selection.of("hive").key(1));

        assertThat(plan.roots())
                .singleElement()
                .satisfies(root -> assertThat(root.values())
                        .containsExactly(entry("hive_id", 1), entry("name", "Fellside One"), entry("apiary_id", 1)));
        assertThat(plan.effects())
                .filteredOn(effect -> effect.link().child().name().equals("inspection"))
                .singleElement()
                .satisfies(effect ->
                        assertThat(effect.samples()).map(Sample::toString).containsExactly("1 'calm'", "2 'uneasy'"));
        assertThat(plan.tree()).isEqualTo("""
                        hive 1 'Fellside One'
                        └─ inspection      2  goes too: 1 'calm', 2 'uneasy'
                           └─ frame_check  2  goes too: (1, 1), (1, 2)""");
    }

    @OnEveryEngine
    void theSamePlanHasTheSameFingerprintAndAnotherHasAnother(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        String first = plan(database, Selection.of("hive").key(1)).fingerprint();
        String again = plan(database, Selection.of("hive").key(1)).fingerprint();
        String other = plan(database, Selection.of("hive").key(2)).fingerprint();

        assertThat(first).isEqualTo(again).isNotEqualTo(other).matches("[0-9a-f]{64}");
    }

    @OnEveryEngine
    void aBlockTwoLevelsDownNamesTheChildTheLinkAndTheWayToIt(Engine engine) {
        Database database = Schemas.threeLevels(engine)
                .run(
                        "create table honey_batch (code varchar(10) primary key, inspection_id int not null"
                                + " references inspection (inspection_id))",
                        "insert into honey_batch values ('LM-1', 2)");

        Plan plan = plan(database, Selection.of("hive").key(1));

        assertThat(plan.blockers()).singleElement().satisfies(blocker -> {
            assertThat(blocker.count()).isEqualTo(1);
            assertThat(blocker.link().where()).isEqualTo("honey_batch.inspection_id");
            assertThat(blocker.text())
                    .startsWith("1 record of honey_batch forbids it by honey_batch.inspection_id: the schema says");
            assertThat(blocker.children())
                    .extracting(Blocker.Child::text)
                    .containsExactly("hive 1 → inspection 2 → honey_batch LM-1");
        });
        assertThat(Steps.of(database, Selection.of("hive").key(1)).steps()).isEmpty();
        assertThatThrownBy(() -> Approval.of(plan))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("hive 1 → inspection 2 → honey_batch LM-1");
    }

    @OnEveryEngine
    void aChildThatGoesAnywayBlocksNothing(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table queen (queen_id int primary key, hive_id int references hive (hive_id) on delete cascade)",
                        "create table inspection (inspection_id int primary key,"
                                + " hive_id int references hive (hive_id) on delete cascade, queen_id int references queen (queen_id))",
                        "insert into hive values (1), (2)",
                        "insert into queen values (1, 1), (2, 2)",
                        "insert into inspection values (1, 1, 1)");

        assertThat(run(database, Selection.of("hive").key(1)))
                .containsOnly(entry("hive", 1L), entry("queen", 1L), entry("inspection", 1L));

        database.run("insert into inspection values (2, null, 2)");
        assertThat(plan(database, Selection.of("hive").key(2)).blockers()).hasSize(1);
    }

    @OnEveryEngine
    void manyBlockersAreCountedAndTheFirstFewNamed(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table treatment (treatment_id int primary key, hive_id int references hive (hive_id))",
                        "insert into hive values (1)",
                        "insert into treatment values (1,1),(2,1),(3,1),(4,1),(5,1),(6,1),(7,1)");

        Blocker blocker = plan(database, Selection.of("hive").key(1)).blockers().get(0);

        assertThat(blocker.count()).isEqualTo(7);
        assertThat(blocker.children())
                .extracting(Blocker.Child::text)
                .containsExactly(
                        "hive 1 → treatment 1",
                        "hive 1 → treatment 2",
                        "hive 1 → treatment 3",
                        "hive 1 → treatment 4",
                        "hive 1 → treatment 5");
        assertThat(blocker.unnamed()).isEqualTo(2);
    }

    @OnEveryEngine
    void detachedChildrenStayWithoutTheirParent(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table inspection (inspection_id int primary key,"
                                + " keeper_id int references keeper (keeper_id) on delete set null)",
                        "insert into keeper values (1), (2)",
                        "insert into inspection values (1, 1), (2, 2), (3, 1)");

        assertThat(run(database, Selection.of("keeper").key(1))).containsOnly(entry("keeper", 1L));

        assertThat(database.rows("select * from inspection order by 1")).containsExactly("1|null", "2|2", "3|null");
    }

    @OnEveryEngineButMariaDb
    void childrenAreResetWhereTheSchemaSaysSetDefault(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table inspection (inspection_id int primary key,"
                                + " keeper_id int default 2 references keeper (keeper_id) on delete set default)",
                        "insert into keeper values (1), (2)",
                        "insert into inspection values (1, 1), (2, 2)");

        Plan plan = plan(database, Selection.of("keeper").key(1));
        run(database, Selection.of("keeper").key(1));

        assertThat(plan.effects()).singleElement().extracting(Effect::rule).isEqualTo(Rule.RESET);
        assertThat(database.rows("select * from inspection order by 1")).containsExactly("1|2", "2|2");
    }

    @OnEveryEngineButMariaDb
    void aDefaultThatNamesARecordThatGoesIsRefusedAndNothingChanges(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table inspection (inspection_id int primary key,"
                                + " keeper_id int default 1 references keeper (keeper_id) on delete set default)",
                        "insert into keeper values (1), (2)",
                        "insert into inspection values (1, 1), (2, 2)");

        assertThatThrownBy(() -> run(database, Selection.of("keeper").keys(List.of(1, 2))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("The default of keeper_id in inspection names a record that goes too.");
        assertThat(database.rows("select * from inspection order by 1")).containsExactly("1|1", "2|2");
        assertThat(database.count("keeper")).isEqualTo(2);
    }

    @OnEveryEngine
    void compositeKeysAndForeignKeysAreFollowed(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table stand (apiary_id int, row_no int, name varchar(20), primary key (apiary_id, row_no))",
                        "create table hive (hive_id int primary key, stand_row int, stand_apiary int,"
                                + " foreign key (stand_apiary, stand_row) references stand (apiary_id, row_no) on delete cascade)",
                        "create table reading (reading_id int primary key, hive_id int references hive (hive_id) on delete cascade)",
                        "insert into stand values (1, 1, 'a'), (1, 2, 'b'), (2, 1, 'c')",
                        "insert into hive values (1, 1, 1), (2, 2, 1), (3, 1, 2), (4, 1, null)",
                        "insert into reading values (1, 1), (2, 2), (3, 3), (4, 4), (5, 1)");

        var counts = run(database, Selection.of("stand").keys(List.of(List.of(1, 1), List.of(2, 1))));

        assertThat(counts).containsOnly(entry("stand", 2L), entry("hive", 2L), entry("reading", 3L));
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("2", "4");
        assertThat(database.rows("select reading_id from reading order by 1")).containsExactly("2", "4");
    }

    @OnEveryEngine
    void aForeignKeyToAUniqueKeyIsFollowedByThatKey(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, badge varchar(10) unique)",
                        "create table loan (loan_id int primary key,"
                                + " badge varchar(10) references keeper (badge) on delete cascade)",
                        "insert into keeper values (1, 'A-1'), (2, 'A-2'), (3, null)",
                        "insert into loan values (1, 'A-1'), (2, 'A-2'), (3, null)");

        assertThat(run(database, Selection.of("keeper").keys(List.of(1, 3))))
                .containsOnly(entry("keeper", 2L), entry("loan", 1L));
        assertThat(database.rows("select loan_id from loan order by 1")).containsExactly("2", "3");
    }

    @OnEveryEngine
    void severalLinksBetweenTwoTablesAreKeptApart(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table handover (handover_id int primary key,"
                                + " from_keeper int references keeper (keeper_id) on delete cascade,"
                                + " to_keeper int references keeper (keeper_id) on delete set null)",
                        "insert into keeper values (1), (2)",
                        "insert into handover values (1, 1, 2), (2, 2, 1), (3, 1, 1)");

        Plan plan = plan(database, Selection.of("keeper").key(1));
        run(database, Selection.of("keeper").key(1));

        assertThat(plan.effects())
                .extracting(effect -> effect.link().where() + " " + effect.rule() + " " + effect.count())
                .containsExactlyInAnyOrder("handover.from_keeper cascade 2", "handover.to_keeper detach 1");
        assertThat(database.rows("select * from handover")).containsExactly("2|2|null");
    }

    @OnEveryEngine
    void aRecordReachedOverTwoWaysCountsOnce(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id int primary key)",
                        "create table hive (hive_id int primary key, apiary_id int references apiary (apiary_id) on delete cascade)",
                        "create table keeper (keeper_id int primary key,"
                                + " apiary_id int references apiary (apiary_id) on delete cascade)",
                        "create table inspection (inspection_id int primary key,"
                                + " hive_id int references hive (hive_id) on delete cascade,"
                                + " keeper_id int references keeper (keeper_id) on delete cascade)",
                        "insert into apiary values (1)",
                        "insert into hive values (1, 1)",
                        "insert into keeper values (1, 1)",
                        "insert into inspection values (1, 1, 1), (2, 1, null), (3, null, 1), (4, null, null)");

        assertThat(run(database, Selection.of("apiary").key(1))).containsEntry("inspection", 3L);
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("4");
    }

    @OnEveryEngine
    void aSelfReferenceIsFollowedToItsLastGeneration(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, mother_id int references queen (queen_id) on delete cascade)",
                        "create table award (award_id int primary key, queen_id int references queen (queen_id) on delete cascade)",
                        "insert into queen values (1, null), (2, 1), (3, 2), (4, 3), (5, null), (6, 5)",
                        "insert into award values (1, 4), (2, 6)");

        assertThat(run(database, Selection.of("queen").keys(List.of(2, 1))))
                .containsOnly(entry("queen", 4L), entry("award", 1L));
        assertThat(database.rows("select queen_id from queen order by 1")).containsExactly("5", "6");
    }

    @OnEveryEngine
    void tablesThatPointAtEachOtherGoTogether(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, hive_id int not null)",
                        "create table hive (hive_id int primary key, queen_id int)",
                        "alter table queen add foreign key (hive_id) references hive (hive_id) on delete cascade",
                        "alter table hive add foreign key (queen_id) references queen (queen_id) on delete cascade",
                        "insert into hive values (1, null), (2, null)",
                        "insert into queen values (1, 1), (2, 2)",
                        "update hive set queen_id = hive_id");

        Planned planned = Steps.of(database, Selection.of("hive").key(1));

        assertThat(planned.steps())
                .hasOnlyElementsOfTypes(Step.Loosen.class, Step.Delete.class)
                // SQLite puts off its checks, and has nothing to empty first.
                .hasSize(engine == Engine.SQLITE ? 2 : 3);
        assertThat(run(database, Selection.of("hive").key(1))).containsOnly(entry("hive", 1L), entry("queen", 1L));
        assertThat(database.rows("select hive_id from hive")).containsExactly("2");
    }

    @OnEveryEngine
    void theContentOfARootInACircleIsTheOneBeforeTheRun(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, mother_id int references queen (queen_id) on delete cascade)",
                        "insert into queen values (1, null), (2, 1)");
        Vacancy vacancy = Vacancy.over(database.source());

        var outcome = vacancy.run(Approval.of(vacancy.plan(Selection.of("queen").keys(List.of(1, 2)), ODILE)));

        assertThat(outcome.deleted())
                .extracting(queen -> queen.get("mother_id"))
                .containsExactly(null, 1);
    }

    @OnEveryEngine
    void leavesWithoutAPrimaryKeyGoByTheirParentsKeys(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table weight (hive_id int references hive (hive_id) on delete cascade, kilos int)",
                        "insert into hive values (1), (2)",
                        "insert into weight values (1, 30), (1, 30), (2, 30)");

        assertThat(run(database, Selection.of("hive").key(1))).containsOnly(entry("hive", 1L), entry("weight", 2L));
        assertThat(database.count("weight")).isEqualTo(1);
    }

    @OnEveryEngine
    void namesWithCapitalsBlanksQuotesAndReservedWordsWork(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table \"Order\" (\"Group By\" int primary key, \"a\"\"b\" varchar(20))",
                        "create table \"Select me\" (\"From\" int primary key,"
                                + " \"Group By\" int references \"Order\" (\"Group By\") on delete cascade)",
                        "insert into \"Order\" values (1, 'it''s'), (2, 'x')",
                        "insert into \"Select me\" values (10, 1), (11, 1), (12, 2)");

        assertThat(run(database, Selection.of("Order").key(1)))
                .containsOnly(entry("Order", 1L), entry("Select me", 2L));
        assertThat(database.rows("select \"From\" from \"Select me\"")).containsExactly("12");
    }

    @OnEveryEngineButSqlite
    void linksAcrossSchemasAreFollowed(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        String own = database.ownSchema();
        String sales = database.schema("sales");
        database.run(
                "create table " + sales + ".hive (hive_id int primary key, owned int)",
                "create table " + sales + ".price (price_id int primary key, hive_id int)",
                "insert into " + sales + ".hive values (1, 1)",
                "insert into " + sales + ".price values (1, 1), (2, 2)",
                "alter table " + sales + ".price add foreign key (hive_id) references " + own
                        + ".hive (hive_id) on delete cascade");

        assertThat(run(database, Selection.of("hive").key(1)))
                .containsOnly(
                        entry("hive", 1L),
                        entry("inspection", 2L),
                        entry("frame_check", 2L),
                        entry(sales + ".price", 1L));
        assertThat(database.count(sales + ".hive")).isEqualTo(1);
    }

    private static Plan plan(Database database, Selection selection) {
        return Vacancy.over(database.source()).plan(selection, ODILE);
    }

    private static java.util.Map<String, Long> run(Database database, Selection selection) {
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(selection, ODILE);
        var counts = vacancy.run(Approval.of(plan)).counts();
        assertThat(counts).isEqualTo(plan.counts());
        return counts;
    }
}
