package dev.vacancy.examples;

import static dev.vacancy.Criteria.column;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import java.sql.SQLException;

/** Own rules, records picked by what they hold, and those left out that something forbids to delete. */
public final class PickedByCriteria {
    private PickedByCriteria() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:criteria");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook rules = RuleBook.bySchema()
                    .on(
                            "batch_hive.hive_id",
                            Clause.block("a sold batch must stay traceable")
                                    .where(column("honey_batch.sold_on").isNotNull()),
                            Clause.cascade())
                    .link("photo.hive_no", "hive")
                    .on("photo.hive_no", Clause.cascade());
            Vacancy vacancy = Vacancy.over(database, rules);

            // Which hives are old, and stand at Fellside? As a user types it, and the same by API.
            Criteria typed = Criteria.parse("apiary.name = 'Fellside' and set_up_on < '2024-06-01'");
            Criteria built = column("apiary.name")
                    .equalTo("Fellside")
                    .and(column("set_up_on").lessThan("2024-06-01"));
            System.out.println(typed + (typed.equals(built) ? " (by API too)" : ""));

            Plan plan = vacancy.plan(Selection.of("hive").where(built).skippingBlocked(), By.user("odile"));
            plan.skipped().forEach(left -> System.out.println("Left out: " + left.text()));
            System.out.println("Deleted " + vacancy.run(Approval.of(plan)).counts());
        }
    }
}
