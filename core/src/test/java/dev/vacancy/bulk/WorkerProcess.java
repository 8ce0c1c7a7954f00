package dev.vacancy.bulk;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.io.PrintWriter;
import java.lang.reflect.Proxy;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.UUID;
import javax.sql.DataSource;

/** Works on a bulk run in a process of its own, until it is done or the process is killed. */
final class WorkerProcess {
    private WorkerProcess() {}

    /**
     * Takes the database's URL, user and password, the run, and whether there is a trail. A connection is kept open, as a pool
     * would: without any, H2 closes its file after each transaction and tidies it up, and a process that is killed in the
     * middle of that leaves a file from which H2 reads an older state.
     */
    public static void main(String[] arguments) throws SQLException {
        DataSource source = source(arguments[0], arguments[1], arguments[2]);
        RuleBook rules =
                Boolean.parseBoolean(arguments[4]) ? RuleBook.bySchema().trail(Trail.defaults()) : RuleBook.bySchema();
        Connection kept = source.getConnection();
        Vacancy vacancy = Vacancy.over(source, rules);
        PrintWriter out = new PrintWriter(System.out, true, StandardCharsets.UTF_8);
        vacancy.bulk()
                .work(
                        UUID.fromString(arguments[3]),
                        BulkOptions.defaults().chunk(4),
                        Exemption.none(),
                        run -> out.println(run.done()));
        kept.close();
    }

    static DataSource source(String url, String user, String password) {
        return (DataSource) Proxy.newProxyInstance(
                WorkerProcess.class.getClassLoader(),
                new Class<?>[] {DataSource.class},
                (proxy, method, arguments) -> DriverManager.getConnection(url, user, password));
    }
}
