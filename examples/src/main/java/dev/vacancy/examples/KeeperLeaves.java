package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.sql.SQLException;
import java.time.Period;

/** A keeper leaves and is only marked, is found among the deleted, and comes back. */
public final class KeeperLeaves {
    private KeeperLeaves() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:leaves");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook rules = RuleBook.bySchema()
                    .marker("keeper", Marker.timestamp("left_at"))
                    .soft(
                            "keeper",
                            SoftDelete.defaults().keptFor(Period.ofDays(15)).uniqueWhileActive("email"))
                    .on("placement.keeper_id", Clause.keep())
                    .on("inspection.keeper_id", Clause.reassign())
                    .trail(Trail.defaults());
            Ddl.of(database, rules).apply();
            Vacancy vacancy = Vacancy.over(database, rules);

            Selection leaving = Selection.of("keeper").key(3).reassigning("inspection.keeper_id", 7);
            Outcome left = vacancy.run(
                    Approval.of(vacancy.plan(leaving, By.user("odile").because("moved away"))));
            System.out.println("Marked: " + left.marked() + " of " + left.counts());

            vacancy.history()
                    .deleted("keeper", 10)
                    .forEach(deleted -> System.out.println("Deleted: keeper "
                            + deleted.record().key()
                            + deleted.by().map(by -> " by " + by.actor()).orElse("")
                            + deleted.daysLeft()
                                    .map(days -> ", kept for " + days + " more days")
                                    .orElse("")));
            System.out.println(
                    "Active keepers: where " + vacancy.active("keeper").sql("k"));

            RestorePlan plan = vacancy.history().planRestore(left.runId(), By.user("una"));
            System.out.println(Question.about(plan).text());
            vacancy.history().restore(Question.about(plan).answer("yes").orElseThrow());
            System.out.println("Back: "
                    + vacancy.plan(leaving, By.user("una")).roots().get(0).get("name"));
        }
    }
}
