package dev.vacancy.confirm;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.Schemas;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** What a person is asked about a deletion in chunks. */
class BulkQuestionTest {
    private static Vacancy larkmoor;

    @BeforeAll
    static void openTheDemo() {
        larkmoor = Vacancy.over(Schemas.larkmoor(Engine.H2).source());
    }

    @Test
    void itSaysThatChunksAreCommittedOneByOne() {
        Plan plan = plan("hive_id <= 3", "reading");

        Question question = Question.aboutChunks(plan);

        assertThat(question.text())
                .isEqualTo("Delete 1,500 of the 20,000 records of reading, in chunks that are committed one by one?"
                        + " There is no way back.");
        assertThat(question.answer("yes"))
                .hasValueSatisfying(approval -> assertThat(approval.plan()).isSameAs(plan));
        assertThat(question.answer("no")).isEmpty();
    }

    @Test
    void blockedRecordsDontForbidItButAreSpokenOf() {
        Question question = Question.aboutChunks(plan("hive_id < 10", "hive"));

        assertThat(question.text()).startsWith("Delete, where nothing forbids it, 9 of the 40 records of hive and ");
        assertThat(question.answer("y")).isPresent();
    }

    @Test
    void allOfATableTakesTheNumberHereToo() {
        Question question = Question.aboutChunks(plan("reading_id > 0", "reading"));

        assertThat(question.typed()).contains("20000");
        assertThat(question.answer("yes")).isEmpty();
        assertThat(question.answer("20,000")).isPresent();
    }

    private static Plan plan(String criteria, String table) {
        return larkmoor.plan(Selection.of(table).where(Criteria.parse(criteria)), By.user("odile"));
    }
}
