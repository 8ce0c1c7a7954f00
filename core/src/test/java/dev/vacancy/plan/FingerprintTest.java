package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import org.junit.jupiter.api.Test;

/** What a person saw is what that person agreed to. */
class FingerprintTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void aSelectedRecordThatHasChangedIsAnother(Engine engine) {
        Database database = batches(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("honey_batch").key(1), ODILE));

        database.run("update honey_batch set status = 'paid' where batch_id = 1");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("honey_batch 1 has changed in status");
        assertThat(database.count("honey_batch")).isEqualTo(2);
    }

    @OnEveryEngine
    void anotherRecordThatTookOverTheKeyIsAnother(Engine engine) {
        Database database = batches(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("honey_batch").key(2), ODILE));

        database.run(
                "delete from honey_batch where batch_id = 2", "insert into honey_batch values (2, 'new', 'X-99', 0)");

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
        assertThat(database.count("honey_batch")).isEqualTo(2);
    }

    @OnEveryEngine
    void whatNeverStandsStillCanBeLeftOut(Engine engine) {
        Database database = batches(engine);
        Vacancy vacancy =
                Vacancy.over(database.source(), RuleBook.bySchema().ignoringChangesIn("honey_batch.seen", "reading"));
        Approval approval = Approval.of(vacancy.plan(Selection.of("honey_batch").key(1), ODILE));

        database.run(
                "update honey_batch set seen = seen + 1 where batch_id = 1",
                "insert into reading values (3, 1), (4, 1)");
        Outcome outcome = vacancy.run(approval);

        assertThat(approval.plan().counts()).containsEntry("reading", 2L);
        assertThat(outcome.counts()).containsEntry("reading", 4L);
        assertThat(database.count("reading")).isZero();
    }

    @Test
    void aDriftingPlaceThatIsntThereIsToldAtTheStart() {
        Database database = batches(Engine.H2);

        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().ignoringChangesIn("honey_batch.sean")))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("Did you mean 'seen'?");
    }

    private static Database batches(Engine engine) {
        return engine.database()
                .run(
                        "create table honey_batch (batch_id int primary key, status varchar(10), code varchar(10), seen int)",
                        "create table reading (reading_id int primary key, batch_id int,"
                                + " foreign key (batch_id) references honey_batch (batch_id) on delete cascade)",
                        "insert into honey_batch values (1, 'draft', 'X-1', 0), (2, 'draft', 'X-2', 0)",
                        "insert into reading values (1, 1), (2, 1)");
    }
}
