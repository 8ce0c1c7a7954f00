package dev.vacancy.examples.tasks;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import java.util.function.UnaryOperator;
import javax.sql.DataSource;

/** Ask a person first: the types that an application names for it. */
final class AskFirst {
    private AskFirst() {}

    static long deleteHive(DataSource dataSource, int hive, UnaryOperator<String> ask) {
        Vacancy vacancy = Vacancy.over(dataSource);
        Plan plan =
                vacancy.plan(Selection.of("hive").key(hive), By.user("odile").because("colony lost"));
        Question question = Question.about(plan);
        String answer = ask.apply(question.text());
        return question.answer(answer).map(vacancy::run).map(Outcome::total).orElse(0L);
    }
}
