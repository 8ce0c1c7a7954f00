package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.sql.SQLException;

/** A hive is deleted by mistake, with its readings, and comes back as it was; what stands in the way is told first. */
public final class DeletedByMistake {
    private DeletedByMistake() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:mistake");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
            Ddl.of(database, rules).apply();
            Vacancy vacancy = Vacancy.over(database, rules);

            Outcome mistake =
                    vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(12), By.user("tam"))));
            System.out.println("Deleted " + mistake.counts());

            RestorePlan plan = vacancy.history().planRestore(mistake.runId(), By.user("odile"));
            for (Conflict conflict : plan.conflicts()) {
                System.out.println(conflict.table() + " " + conflict.key() + ": " + conflict.reason());
            }
            System.out.println("Brought back "
                    + vacancy.history().restore(Approval.of(plan)).counts());
        }
    }
}
