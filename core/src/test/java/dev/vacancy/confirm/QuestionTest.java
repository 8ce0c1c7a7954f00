package dev.vacancy.confirm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.Schemas;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.NullSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What a person is asked, and what counts as a yes. */
class QuestionTest {
    private static Vacancy larkmoor;

    @BeforeAll
    static void openTheDemo() {
        larkmoor = Vacancy.over(Schemas.larkmoor(Engine.H2).source());
    }

    @Test
    void theQuestionNamesTheRecordAndCountsWhatDependsOnIt() {
        Plan plan = plan(Selection.of("hive").key(12));

        Question question = Question.about(plan);

        assertThat(question.text())
                .isEqualTo("Delete hive 12 'Bramble Three' and " + (plan.total() - 1)
                        + " records that depend on it? There is no way back.");
        assertThat(question.survivors()).containsExactly("1 record of queen stays: queen.hive_id is set to null");
    }

    @Test
    void theQuestionAboutSeveralRecordsCountsThem() {
        assertThat(Question.about(plan(Selection.of("hive").keys(List.of(12, 13))))
                        .text())
                .matches(
                        "Delete 2 of the 40 records of hive and 1,\\d{3} records that depend on them\\? There is no way back\\.");
    }

    @Test
    void theQuestionAboutARecordAloneSaysNothingElse() {
        assertThat(Question.about(plan(Selection.of("photo").key(1))).text()).startsWith("Delete photo 1 'Hive ");
        assertThat(Question.about(plan(Selection.of("reading").key(1))).text())
                .isEqualTo("Delete reading 1? There is no way back.");
    }

    @Test
    void allOfATableTakesTheNumberOfRecords() {
        Plan plan = plan(Selection.of("photo").allRecords());

        Question question = Question.about(plan);

        assertThat(question.text()).isEqualTo("Delete all 120 records of photo? There is no way back.");
        assertThat(question.typed()).contains("120");
        assertThat(question.answer("yes")).isEmpty();
        assertThat(question.answer("121")).isEmpty();
        assertThat(question.answer(" 120 ")).isPresent();
    }

    @Test
    void aCriteriaThatHappensToPickAllOfThemTakesTheNumberToo() {
        Question question = Question.about(plan(Selection.of("photo").where(Criteria.parse("photo_id > 0"))));

        assertThat(question.typed()).contains("120");
        assertThat(Question.about(plan(Selection.of("photo").where(Criteria.parse("photo_id > 1"))))
                        .typed())
                .isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"yes", "y", "YES", " Yes "})
    void aYesApprovesThePlan(String answer) {
        Plan plan = plan(Selection.of("hive").key(12));

        assertThat(Question.about(plan).answer(answer))
                .hasValueSatisfying(
                        approval -> assertThat(approval.fingerprint()).isEqualTo(plan.fingerprint()));
    }

    @ParameterizedTest
    @NullSource
    @ValueSource(strings = {"", "no", "n", "yes please", "yess", "true", "1", "ja", "ok"})
    void everythingElseIsANo(String answer) {
        assertThat(Question.about(plan(Selection.of("hive").key(12))).answer(answer))
                .isEmpty();
    }

    @Test
    void aBlockedPlanCantBeAskedAbout() {
        Plan blocked = plan(Selection.of("hive").key(4));

        assertThatThrownBy(() -> Question.about(blocked))
                .isInstanceOfSatisfying(
                        BlockedException.class,
                        exception -> assertThat(exception.blockers()).isEqualTo(blocked.blockers()));
    }

    @ParameterizedTest
    @NullSource
    @ValueSource(strings = {"", "  "})
    void somebodyHasToAsk(String actor) {
        assertThatThrownBy(() -> By.user(actor)).isInstanceOf(InvalidRequestException.class);
    }

    private static Plan plan(Selection selection) {
        return larkmoor.plan(selection, By.user("odile"));
    }
}
