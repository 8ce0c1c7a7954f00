package dev.vacancy.confirm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.JsonForm;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;

/** How hard people are asked follows from the rules of all tables that lose records, and the strictest wins. */
class ConsentTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook BOOK = RuleBook.bySchema()
            .label("hive", "{name}")
            .consent("reading", ConsentRule.atLeast(Consent.NONE).numberBeyond(2))
            .consent("hive", ConsentRule.atLeast(Consent.YES).withoutWayBack(Consent.LABEL));

    private static Database larkmoor(Engine engine) {
        return engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "create table reading (reading_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "insert into hive values (1, 'Bramble Three'), (2, null), (3, ' "
                                + "A  name\tof parts'), (4, 'Fen One')",
                        "insert into reading values (1, 1), (2, 1), (3, 1), (4, 2), (5, 4)");
    }

    private static Plan plan(Database database, RuleBook book, Selection selection) {
        return Vacancy.over(database.source(), book).plan(selection, ODILE);
    }

    @OnEveryEngine
    void aLabelIsTypedWhereThereIsNoWayBack(Engine engine) {
        Database database = larkmoor(engine);
        Question named =
                Question.about(plan(database, BOOK, Selection.of("hive").key(4)));
        Question nameless =
                Question.about(plan(database, BOOK, Selection.of("hive").key(2)));
        Question odd = Question.about(plan(database, BOOK, Selection.of("hive").key(3)));

        assertThat(named.typed()).contains("Fen One");
        assertThat(named.answer("yes")).isEmpty();
        assertThat(named.answer("fen one")).isEmpty();
        assertThat(named.answer(null)).isEmpty();
        assertThat(named.answer(" Fen One ")).isPresent();
        assertThat(nameless.typed()).contains("2");
        assertThat(odd.typed()).contains("A name of parts");
        assertThat(odd.answer("A name of parts")).isPresent();
    }

    @OnEveryEngine
    void ofSeveralRecordsTheNumberIsTypedInsteadOfLabels(Engine engine) {
        Database database = larkmoor(engine);
        Plan two = plan(database, BOOK, Selection.of("hive").keys(List.of(2, 4)));

        assertThat(two.consent()).isEqualTo(Consent.NUMBER);
        assertThat(Question.about(two).typed()).contains("4");
        assertThat(Question.aboutChunks(two).typed()).contains("4");
        assertThat(Question.aboutChunks(two).answer("yes")).isEmpty();
        assertThat(Question.aboutChunks(two).answer("4")).isPresent();
    }

    @OnEveryEngine
    void whatGoesAlongMakesTheQuestionHarder(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook kept = BOOK.trail(Trail.defaults());
        Ddl.of(database.source(), kept).apply();

        assertThat(plan(database, kept, Selection.of("hive").key(4)).consent()).isEqualTo(Consent.YES);
        assertThat(plan(database, kept, Selection.of("hive").key(1)).consent()).isEqualTo(Consent.NUMBER);
        assertThat(JsonForm.of(plan(database, kept, Selection.of("hive").key(1))))
                .containsEntry("consent", "number");
    }

    @OnEveryEngine
    void aQuestionThatTheRulesSpareIsStillAskedForAWholeTable(Engine engine) {
        Database database = larkmoor(engine);
        Plan one = plan(database, BOOK, Selection.of("reading").key(5));
        Plan all = plan(
                database,
                RuleBook.bySchema().consent("reading", ConsentRule.atLeast(Consent.NONE)),
                Selection.of("reading").where(Criteria.parse("reading_id < 100")));

        assertThat(Question.about(one).isDue()).isFalse();
        assertThat(Question.about(one).answer("no")).isEmpty();
        assertThat(Question.about(all).isDue()).isTrue();
        assertThat(Question.about(all).typed()).contains("5");
        assertThat(plan(database, RuleBook.bySchema(), Selection.of("reading").key(5))
                        .consent())
                .isEqualTo(Consent.YES);
    }

    @OnEveryEngine
    void rulesOfNoTableAndTwoOfOneAreRefused(Engine engine) {
        Database database = larkmoor(engine);
        ConsentRule yes = ConsentRule.atLeast(Consent.YES);

        assertThatThrownBy(() -> Vacancy.over(
                        database.source(), BOOK.consent("hive", yes).consent("hvie", yes)))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("how hard to ask about hive is said twice")
                .hasMessageContaining("hvie");
        assertThatThrownBy(() -> yes.numberBeyond(-1)).isInstanceOf(InvalidRequestException.class);
    }
}
