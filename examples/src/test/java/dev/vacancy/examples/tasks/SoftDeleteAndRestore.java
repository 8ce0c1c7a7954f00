package dev.vacancy.examples.tasks;

import dev.vacancy.By;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.UUID;
import javax.sql.DataSource;

/** Mark a record instead of deleting it, and bring it back: the types that an application names for it. */
final class SoftDeleteAndRestore {
    private SoftDeleteAndRestore() {}

    static UUID leaveAndComeBack(DataSource dataSource, int keeper, String answer) {
        RuleBook rules = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper")
                .trail(Trail.defaults());
        Ddl.of(dataSource, rules).apply();
        Vacancy vacancy = Vacancy.over(dataSource, rules);

        Selection leaving = Selection.of("keeper").key(keeper);
        UUID run = vacancy.delete(leaving, By.program("membership")).runId();

        RestorePlan plan = vacancy.history().planRestore(run, By.user("una"));
        vacancy.history().restore(Question.about(plan).answer(answer).orElseThrow());
        return run;
    }
}
