package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import java.sql.SQLException;

/** Plan, look, approve, run. */
public final class FirstDeletion {
    private FirstDeletion() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:larkmoor");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }

            Vacancy vacancy = Vacancy.over(database);
            Plan plan =
                    vacancy.plan(Selection.of("hive").key(12), By.user("odile").because("colony lost"));
            System.out.println(plan.tree());

            Outcome outcome = vacancy.run(Approval.of(plan));
            System.out.println("Deleted " + outcome.counts());
            System.out.println("It was " + outcome.deleted().get(0).values());
        }
    }
}
