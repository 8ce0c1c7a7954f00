package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.Verification;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.sql.SQLException;
import java.util.Optional;

/** Years later: what did this record look like, who removed it, and has anybody changed the answer since? */
public final class WhoRemovedIt {
    private WhoRemovedIt() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:history");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
            Ddl.of(database, rules).apply();
            Vacancy vacancy = Vacancy.over(database, rules);
            By odile = By.user("odile").because("colony lost");
            vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(12), odile)));

            for (TrailEntry entry : vacancy.history().entries(HistoryQuery.all().ofRecord("hive", "12"))) {
                System.out.println(entry.action() + " by " + entry.by().actor() + ", "
                        + entry.by().reason().orElse("nobody knows why") + ": "
                        + entry.before().orElseThrow().get("name"));
            }
            Verification verification = vacancy.history().verify(Optional.empty());
            System.out.println(
                    verification.isIntact()
                            ? "Nobody has changed that."
                            : verification.faults().toString());
        }
    }
}
