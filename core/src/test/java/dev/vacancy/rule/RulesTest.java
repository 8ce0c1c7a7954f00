package dev.vacancy.rule;

import static dev.vacancy.Criteria.column;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Effect;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Moment;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.List;

/** What becomes of children by the application's own rules. */
class RulesTest {
    private static final Clock JUNE = Clock.fixed(Instant.parse("2026-06-01T12:00:00Z"), ZoneOffset.UTC);

    @OnEveryEngine
    void theFirstClauseThatAppliesDecidesForEachChild(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .on(
                        "treatment.hive_id",
                        Clause.block("its withholding period runs")
                                .where(column("withhold_until").atLeast(Moment.today())),
                        Clause.detach().where("remedy = 'thymol'"),
                        Clause.cascade());
        Database database = treatments(engine)
                .run("insert into treatment values (1, 1, 'thymol', '2026-01-01'), (2, 1, 'oxalic acid', null),"
                        + " (3, 1, 'formic acid', '2026-05-31'), (4, 2, 'thymol', '2026-06-01')");

        Outcome outcome = run(database, rules, Selection.of("hive").key(1));

        assertThat(outcome.counts()).containsOnly(entry("hive", 1L), entry("treatment", 2L));
        assertThat(database.rows("select treatment_id, hive_id from treatment order by 1"))
                .containsExactly("1|null", "4|2");
        assertThat(plan(database, rules, Selection.of("hive").key(2)).blockers())
                .singleElement()
                .extracting(Blocker::text)
                .isEqualTo("1 record of treatment forbids it by treatment.hive_id: its withholding period runs");
    }

    @OnEveryEngine
    void aClauseCanAskForAColumnOfAnotherParent(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .on(
                        "batch_hive.hive_id",
                        Clause.block("a sold batch must stay traceable").where("honey_batch.sold_on is not null"),
                        Clause.cascade());
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table honey_batch (batch_id int primary key, sold_on date)",
                        "create table batch_hive (batch_id int references honey_batch (batch_id), hive_id int references hive (hive_id),"
                                + " primary key (batch_id, hive_id))",
                        "insert into hive values (1), (2)",
                        "insert into honey_batch values (1, '2026-05-01'), (2, null)",
                        "insert into batch_hive values (1, 1), (2, 1), (2, 2)");

        assertThat(run(database, rules, Selection.of("hive").key(2)).counts()).containsEntry("batch_hive", 1L);
        assertThat(plan(database, rules, Selection.of("hive").key(1)).blockers())
                .singleElement()
                .satisfies(blocker -> assertThat(blocker.count()).isEqualTo(1));
    }

    @OnEveryEngine
    void whatNoClauseAppliesToIsAsTheSchemaSays(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .on("treatment.hive_id", Clause.block("thymol lingers").where("remedy = 'thymol'"));
        Database database = treatments(engine)
                .run("insert into treatment values (1, 1, 'oxalic acid', null), (2, 2, 'thymol', null)");

        assertThat(run(database, rules, Selection.of("hive").key(1)).counts()).containsEntry("treatment", 1L);
        assertThat(plan(database, rules, Selection.of("hive").key(2)).blockers())
                .hasSize(1);
    }

    @OnEveryEngine
    void childrenAreHandedOverToTheParentThatTheRuleNames(Engine engine) {
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper_id", Clause.reassign(7));
        Database database = inspections(engine);

        Plan plan = plan(database, rules, Selection.of("keeper").key(1));
        Outcome outcome = run(database, rules, Selection.of("keeper").key(1));

        assertThat(plan.effects())
                .singleElement()
                .extracting(Effect::change)
                .isEqualTo("inspection.keeper_id is set to 7");
        assertThat(outcome.changed()).containsOnly(entry("inspection.keeper_id", 2L));
        assertThat(database.rows("select keeper_id from inspection order by inspection_id"))
                .containsExactly("7", "2", "7");
    }

    @OnEveryEngine
    void theRequestNamesTheParentWhereTheRuleLeavesItOpen(Engine engine) {
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper_id", Clause.reassign());
        Database database = inspections(engine);
        Selection keeper = Selection.of("keeper").key(1);

        assertThat(plan(database, rules, keeper).blockers())
                .singleElement()
                .satisfies(blocker -> assertThat(blocker.reason()).contains("nobody is named to take them over"));
        run(database, rules, keeper.reassigning("inspection.keeper_id", "2"));

        assertThat(database.rows("select keeper_id from inspection order by inspection_id"))
                .containsExactly("2", "2", "2");
    }

    /** Apiaries are in regions, which are in regions: 1 over 2 and 5, 2 over 3, 3 over 4. */
    @OnEveryEngine
    void whoTakesOverIsNotBelowTheRecordThatGoes(Engine engine) {
        for (boolean declared : new boolean[] {true, false}) {
            Database database = engine.database()
                    .run(
                            "create table region (region_id integer primary key, above_id integer"
                                    + (declared ? ", foreign key (above_id) references region (region_id))" : ")"),
                            "insert into region values (1, null)",
                            "insert into region values (2, 1), (5, 1), (6, null)",
                            "insert into region values (3, 2)",
                            "insert into region values (4, 3)");
            RuleBook rules = declared
                    ? RuleBook.bySchema().on("region.above_id", Clause.reassign())
                    : RuleBook.bySchema().link("region.above_id", "region").on("region.above_id", Clause.reassign());
            Selection top = Selection.of("region").key(1);

            for (int below : new int[] {2, 3, 4, 5}) {
                assertThatThrownBy(() -> run(database, rules, top.reassigning("region.above_id", below)))
                        .isInstanceOf(InvalidRequestException.class)
                        .hasMessageContaining("region " + below
                                + ", who should take over region.above_id, is below a record that goes");
            }
            run(database, rules, top.reassigning("region.above_id", 6));

            assertThat(database.rows("select region_id, above_id from region order by region_id"))
                    .containsExactly("2|6", "3|2", "4|3", "5|6", "6|null");
        }
    }

    @OnEveryEngine
    void theNewParentMustBeThereAndStay(Engine engine) {
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper_id", Clause.reassign());
        Database database = inspections(engine);

        assertThatThrownBy(() ->
                        plan(database, rules, Selection.of("keeper").key(1).reassigning("inspection.keeper_id", 99)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("keeper 99, who should take over inspection.keeper_id, isn't there");
        assertThatThrownBy(() -> plan(
                        database,
                        rules,
                        Selection.of("keeper").keys(List.of(1, 2)).reassigning("inspection.keeper_id", 2)))
                .hasMessageContaining("would go too");
        assertThatThrownBy(() -> plan(
                        database,
                        RuleBook.bySchema(),
                        Selection.of("keeper").key(1).reassigning("inspection.keeper_id", 2)))
                .hasMessageContaining("can't be handed over");
    }

    @OnEveryEngine
    void theNewParentsKeyInAnotherCaseIsAnotherKey(Engine engine) {
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper", Clause.reassign());
        Database database = engine.database()
                .run(
                        "create table keeper (name varchar(20) primary key)",
                        "create table inspection (inspection_id int primary key, keeper varchar(20),"
                                + " foreign key (keeper) references keeper (name))",
                        "insert into keeper values ('Tam'), ('Odile')",
                        "insert into inspection values (1, 'Tam')");

        assertThatThrownBy(() -> plan(
                        database, rules, Selection.of("keeper").key("Tam").reassigning("inspection.keeper", "TAM")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("keeper TAM, who should take over inspection.keeper, isn't there");
    }

    @OnEveryEngine
    void linksThatTheDatabaseDoesntDeclareAreFollowedWhateverTheirNamesAndTypes(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .link("photo.KeeperId", "keeper")
                .on("photo.KeeperId", Clause.keep().where("caption like 'group%'"), Clause.cascade());
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_no int primary key)",
                        "create table photo (photo_id int primary key, \"KeeperId\" varchar(10), caption varchar(20))",
                        "create table print (print_id int primary key, photo_id int references photo (photo_id) on delete cascade)",
                        "insert into keeper values (1), (2)",
                        "insert into photo values (1, '1', 'alone'), (2, '2', 'alone'), (3, '1', 'group of two')",
                        "insert into print values (1, 1), (2, 2)");

        Plan plan = plan(database, rules, Selection.of("keeper").key(1));
        Outcome outcome = run(database, rules, Selection.of("keeper").key(1));

        assertThat(outcome.counts()).containsOnly(entry("keeper", 1L), entry("photo", 1L), entry("print", 1L));
        assertThat(outcome.changed()).isEmpty();
        assertThat(plan.effects()).extracting(Effect::rule).contains(Rule.KEEP);
        assertThat(database.rows("select photo_id from photo order by 1")).containsExactly("2", "3");
    }

    @OnEveryEngine
    void anUndeclaredLinkCanBeComposite(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .link("photo.(at_apiary, at_row)", "stand")
                .on("photo.(at_apiary, at_row)", Clause.detach());
        Database database = engine.database()
                .run(
                        "create table stand (apiary_id int, row_no int, primary key (apiary_id, row_no))",
                        "create table photo (photo_id int primary key, at_row int, at_apiary int)",
                        "insert into stand values (1, 1), (1, 2)",
                        "insert into photo values (1, 1, 1), (2, 2, 1)");

        run(database, rules, Selection.of("stand").key(1, 2));

        assertThat(database.rows("select * from photo order by 1")).containsExactly("1|1|1", "2|null|null");
    }

    @OnEveryEngine
    void aChildThatChangesItsClauseMakesTheApprovalStale(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .on("treatment.hive_id", Clause.block("thymol lingers").where("remedy = 'thymol'"), Clause.cascade());
        Database database = treatments(engine).run("insert into treatment values (1, 1, 'oxalic acid', null)");
        Vacancy vacancy = Vacancy.over(database.source(), rules, JUNE);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), By.user("odile")));
        database.run("update treatment set remedy = 'thymol'");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of treatment.hive_id in the way");
        assertThat(database.count("treatment")).isEqualTo(1);
    }

    @OnEveryEngine
    void allThatIsWrongWithTheRulesIsToldAtOnce(Engine engine) {
        Database database = treatments(engine).run("create table photo (photo_id int primary key, hive_no int)");
        RuleBook rules = RuleBook.bySchema()
                .link("photo.hive_no", "hive")
                .link("photo.hive_nr", "hive")
                .on("treatment.hive", Clause.cascade())
                .on("photo.hive_no", Clause.cascade().where("hive_no > 3"))
                .on("treatment.hive_id", Clause.keep(), Clause.block("x").where("colour = 'red'"));

        assertThatThrownBy(() -> Vacancy.over(database.source(), rules))
                .isInstanceOfSatisfying(
                        RulesException.class,
                        wrong -> assertThat(wrong.problems().stream().map(RuleProblem::text))
                                .anyMatch(problem -> problem.contains("Did you mean 'hive_no'?"))
                                .anyMatch(problem -> problem.contains(
                                        "There is no link 'treatment.hive'. Did you mean 'treatment.hive_id'?"))
                                .anyMatch(problem -> problem.contains("can't be kept: the database enforces this link"))
                                .anyMatch(problem -> problem.contains("Table treatment has no column 'colour'."))
                                .anyMatch(problem -> problem.contains("End it with a clause without criteria"))
                                .hasSize(5));
    }

    @OnEveryEngine
    void aColumnThatMayNotBeNullCantBeDetached(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (reading_id int primary key, hive_id int not null references hive (hive_id))");

        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().on("reading.hive_id", Clause.detach())))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("may not be null");
    }

    @OnEveryEngine
    void aMomentIsToldFromTheTimeOfThePlan(Engine engine) {
        RuleBook rules = RuleBook.bySchema()
                .on(
                        "treatment.hive_id",
                        Clause.block("too fresh")
                                .where(column("withhold_until")
                                        .greaterThan(Moment.today().minus(3, ChronoUnit.DAYS))),
                        Clause.cascade());
        Database database = treatments(engine)
                .run("insert into treatment values (1, 1, 'thymol', '2026-05-29'), (2, 2, 'thymol', '2026-05-30')");

        assertThat(plan(database, rules, Selection.of("hive").key(1)).blockers())
                .isEmpty();
        assertThat(plan(database, rules, Selection.of("hive").key(2)).blockers())
                .hasSize(1);
    }

    private static Database treatments(Engine engine) {
        return engine.database()
                .run(
                        "create table hive (hive_id int primary key, name varchar(20))",
                        "create table treatment (treatment_id int primary key,"
                                + " hive_id int references hive (hive_id) on delete cascade, remedy varchar(20), withhold_until date)",
                        "insert into hive values (1, 'Fellside One'), (2, 'Fellside Two')");
    }

    private static Database inspections(Engine engine) {
        return engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table inspection (inspection_id int primary key, keeper_id int not null references keeper (keeper_id))",
                        "insert into keeper values (1), (2), (7)",
                        "insert into inspection values (1, 1), (2, 2), (3, 1)");
    }

    private static Plan plan(Database database, RuleBook rules, Selection selection) {
        return Vacancy.over(database.source(), rules, JUNE).plan(selection, By.user("odile"));
    }

    private static Outcome run(Database database, RuleBook rules, Selection selection) {
        Vacancy vacancy = Vacancy.over(database.source(), rules, JUNE);
        return vacancy.run(Approval.of(vacancy.plan(selection, By.user("odile"))));
    }

    @OnEveryEngine
    void labelsShowSeveralColumnsWithNothingForANull(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table queen (queen_id int primary key, name varchar(20), mark varchar(10), hive_id int,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "insert into hive values (1)",
                        "insert into queen values (1, 'Maud', 'red', 1), (2, 'Iris', null, 1), (3, null, null, 1)");
        RuleBook rules = RuleBook.bySchema().label("queen", "{name} ({mark})");

        Plan plan =
                Vacancy.over(database.source(), rules).plan(Selection.of("hive").key(1), By.user("odile"));

        assertThat(plan.effects().get(0).samples())
                .map(Object::toString)
                .containsExactly("1 'Maud (red)'", "2 'Iris ()'", "3");
    }

    @OnEveryEngine
    void labelsThatNameNoColumnAreRefusedTogether(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        RuleBook rules = RuleBook.bySchema()
                .label("hive", "{nam}")
                .label("apiary", "the apiary")
                .label("inspection", "{note")
                .label("hvie", "{name}");

        assertThatThrownBy(() -> Vacancy.over(database.source(), rules))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("Did you mean 'name'?")
                .hasMessageContaining("'the apiary' of apiary names no column")
                .hasMessageContaining("'{note' of inspection names no column")
                .hasMessageContaining("Did you mean 'hive'?");
    }
}
