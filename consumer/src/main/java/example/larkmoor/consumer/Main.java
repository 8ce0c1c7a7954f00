package example.larkmoor.consumer;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.rule.Ddl;
import dev.vacancy.yaml.RulesFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import org.h2.jdbcx.JdbcDataSource;

/** Deletes a hive with its inspections, by rules from a file and a signed approval, and says on which path its libraries are. */
public final class Main {
    private Main() {}

    public static void main(String[] arguments) throws Exception {
        JdbcDataSource database = new JdbcDataSource();
        database.setURL("jdbc:h2:mem:consumer;DB_CLOSE_DELAY=-1");
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create table hive (hive_id integer primary key, name varchar(40))");
            statement.execute(
                    "create table inspection (inspection_id integer primary key, hive_id integer references hive (hive_id))");
            statement.execute("insert into hive values (1, 'Fen One')");
            statement.execute("insert into inspection values (10, 1), (11, 1)");
        }
        Path rules = Files.createTempFile("rules", ".yaml");
        Files.writeString(rules, "rules:\n  inspection.hive_id: cascade\n");
        Ddl.of(database, Ddl.Part.APPROVALS).apply();

        Vacancy vacancy = Vacancy.over(database, RulesFile.read(rules));
        Selection hive = Selection.of("hive").key(1);
        Approvals approvals = Approvals.of(vacancy, ApprovalKeys.signingWith("one", new byte[ApprovalKeys.LEAST_BYTES]));
        String token = approvals.issue(vacancy.plan(hive, By.user("odile")));
        System.out.println((Vacancy.class.getModule().isNamed() ? "module path: " : "class path: ")
                + approvals.redeem(token, hive, By.user("odile"), "yes").counts());
    }
}
