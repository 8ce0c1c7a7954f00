package dev.vacancy.bulk;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.UUID;
import javax.sql.DataSource;

/** Restores a run in small portions in a process of its own, until it is done or the process is killed. */
final class RestorerProcess {
    private static final int PORTION = 20;

    private RestorerProcess() {}

    /** Takes the database's URL, user and password, and the run; keeps a connection open, as {@link WorkerProcess} does. */
    public static void main(String[] arguments) throws SQLException {
        DataSource source = WorkerProcess.source(arguments[0], arguments[1], arguments[2]);
        Connection kept = source.getConnection();
        Vacancy vacancy = Vacancy.over(source, RuleBook.bySchema().trail(Trail.defaults()));
        PrintWriter out = new PrintWriter(System.out, true, StandardCharsets.UTF_8);
        vacancy.history()
                .restore(
                        Approval.of(
                                vacancy.history().planRestore(UUID.fromString(arguments[3]), By.program("restorer"))),
                        PORTION,
                        portion -> out.println(portion.counts().size()));
        kept.close();
    }
}
