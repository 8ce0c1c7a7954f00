package dev.vacancy.rule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.JsonForm;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;

/** One record in two tables, as object mappers store a subclass: a keeper is a person with more to it. */
class PartOfTest {
    private static final By ODILE = By.user("odile");
    private static final String LINK = "keeper.person_id";

    @OnEveryEngine
    void whicheverHalfIsSelectedBothGo(Engine engine) {
        for (String half : new String[] {"person", "keeper"}) {
            Database database = persons(engine);
            Vacancy vacancy =
                    Vacancy.over(database.source(), RuleBook.bySchema().on(LINK, Clause.partOf()));

            Plan plan = vacancy.plan(Selection.of(half).key(2), ODILE);
            vacancy.run(Approval.of(plan));

            assertThat(plan.counts()).containsOnly(entry("person", 1L), entry("keeper", 1L), entry("visit", 1L));
            assertThat(plan.warnings()).isEmpty();
            assertThat(database.rows("select person_id from person order by 1")).containsExactly("1", "3");
            assertThat(database.rows("select person_id from keeper")).containsExactly("1");
            assertThat(database.rows("select visit_id from visit")).containsExactly("11");
        }
    }

    @OnEveryEngine
    void eachHalfIsToldOnce(Engine engine) {
        Vacancy vacancy =
                Vacancy.over(persons(engine).source(), RuleBook.bySchema().on(LINK, Clause.partOf()));

        String fromTheChild = vacancy.plan(Selection.of("keeper").key(2), ODILE).tree();
        String fromTheParent =
                vacancy.plan(Selection.of("person").key(2), ODILE).tree();

        assertThat(fromTheChild.lines())
                .anySatisfy(line -> assertThat(line).startsWith("keeper 2"))
                .anySatisfy(line -> assertThat(line).contains("─ person", "goes too: 2 'Odile'"))
                .noneMatch(line -> line.contains("─ keeper"));
        assertThat(fromTheParent.lines())
                .anySatisfy(line -> assertThat(line).startsWith("person 2 'Odile'"))
                .anySatisfy(line -> assertThat(line).contains("─ keeper", "goes too: 2"))
                .noneMatch(line -> line.contains("─ person"));
    }

    @OnEveryEngine
    void aHalfThatACascadeReachesTakesTheOtherAlong(Engine engine) {
        Database database = persons(engine);
        Vacancy vacancy = Vacancy.over(
                database.source(),
                RuleBook.bySchema().on(LINK, Clause.partOf()).on("keeper.apiary_id", Clause.cascade()));

        vacancy.run(Approval.of(vacancy.plan(Selection.of("apiary").key(7), ODILE)));

        assertThat(database.rows("select person_id from person order by 1")).containsExactly("2", "3");
        assertThat(database.rows("select person_id from keeper")).containsExactly("2");
    }

    @OnEveryEngine
    void withoutTheRuleThePlanSaysThatHalfStays(Engine engine) {
        Database database = persons(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        Plan child = vacancy.plan(Selection.of("keeper").key(1), ODILE);
        Plan parent = Vacancy.over(database.source(), RuleBook.bySchema().on(LINK, Clause.cascade()))
                .plan(Selection.of("person").key(1), ODILE);

        assertThat(child.warnings())
                .containsExactly(
                        "1 record of keeper is only half of what it belongs to: the other half, in person, stays."
                                + " The rule 'part of' on keeper.person_id would take it along.");
        assertThat(JsonForm.of(child)).containsEntry("warnings", child.warnings());
        assertThat(parent.warnings()).isEmpty();
    }

    @OnEveryEngine
    void theRuleSettlesTheFindingOfTheCheck(Engine engine) {
        Database database = persons(engine);

        assertThat(Vacancy.check(database.source(), RuleBook.bySchema()))
                .extracting(Finding::kind)
                .contains(Finding.Kind.SHARED_KEY);
        assertThat(Vacancy.check(database.source(), RuleBook.bySchema().on(LINK, Clause.partOf())))
                .extracting(Finding::where)
                .doesNotContain(LINK, "person.person_id");
    }

    @OnEveryEngine
    void onlyASharedKeyMakesOneRecordOfTwo(Engine engine) {
        Database database = persons(engine);

        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().on("visit.keeper_id", Clause.partOf())))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("visit.keeper_id can't be part of keeper");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema().on(LINK, Clause.partOf().where("apiary_id = 7"), Clause.cascade())))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("Leave it as the only one");
    }

    @OnEveryEngine
    void theLinkTurnedRoundIsNoWayForCriteriaOrOtherRules(Engine engine) {
        Database database = persons(engine);
        RuleBook rules = RuleBook.bySchema().on(LINK, Clause.partOf());
        Vacancy vacancy = Vacancy.over(database.source(), rules);

        assertThatThrownBy(
                        () -> vacancy.plan(Selection.of("person").where(Criteria.parse("keeper.apiary_id = 7")), ODILE))
                .hasMessageContaining("No link leads from person");
        assertThatThrownBy(() -> vacancy.catalog().link("person.person_id")).hasMessageContaining("There is no link");
    }

    private static Database persons(Engine engine) {
        return engine.database()
                .run(
                        "create table apiary (apiary_id int primary key)",
                        "create table person (person_id int primary key, name varchar(40) not null)",
                        "create table keeper (person_id int primary key, apiary_id int,"
                                + " foreign key (person_id) references person (person_id),"
                                + " foreign key (apiary_id) references apiary (apiary_id))",
                        "create table visit (visit_id int primary key, keeper_id int not null,"
                                + " foreign key (keeper_id) references keeper (person_id) on delete cascade)",
                        "insert into apiary values (7)",
                        "insert into person values (1, 'Bram'), (2, 'Odile'), (3, 'Fenna')",
                        "insert into keeper values (1, 7), (2, null)",
                        "insert into visit values (11, 1), (12, 2)");
    }
}
