package dev.vacancy.cli;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import com.zaxxer.hikari.pool.HikariPool.PoolInitializationException;
import dev.vacancy.Ddl;
import dev.vacancy.Vacancy;
import dev.vacancy.check.Finding;
import dev.vacancy.plan.Limits;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduledRuns;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.List;

/** The database that the configuration names, open for one command. */
final class Session implements AutoCloseable {
    private static final long LONGEST_WAIT_MILLIS = 10_000;

    /** One is enough for a deletion; a worker also looks for what is due. */
    private static final int MOST_CONNECTIONS = 4;

    private final HikariDataSource source;
    private final RuleBook rules;
    private final Limits limits;
    private Vacancy vacancy;

    private Session(HikariDataSource source, RuleBook rules, Limits limits) {
        this.source = source;
        this.rules = rules;
        this.limits = limits;
    }

    /**
     * Connects. A password comes from the environment; when the database refuses and there is a person, it is asked for.
     */
    static Session open(CommonOptions common, Terminal terminal, Limits limits) {
        Configuration configuration = ConfigurationReader.read(common.config());
        requireDriver(configuration);
        String password = System.getenv(configuration.passwordVariable());
        try {
            return open(configuration, password == null ? "" : password, limits);
        } catch (PoolInitializationException failure) {
            if (!isRefusal(failure)) {
                throw unreachable(configuration, failure);
            }
            if (password != null || !terminal.isThere()) {
                throw refused(configuration, failure);
            }
        }
        return openWithAnswer(configuration, terminal, limits);
    }

    /** Reads the catalog and the rules, once; refuses rules that don't fit. */
    Vacancy vacancy() {
        if (vacancy == null) {
            vacancy = Vacancy.over(source, rules).within(limits);
        }
        return vacancy;
    }

    /** Deletions that are due later. */
    ScheduledRuns scheduled() {
        return ScheduledRuns.over(source, vacancy());
    }

    /** What the database still needs for the rules. */
    Ddl ddl() {
        return Ddl.of(source, rules);
    }

    /** The tables that the rules mark records of. */
    List<String> softTables() {
        return rules.softTables().stream().map(RuleBook.SoftTable::table).toList();
    }

    /** Looks for what is wrong or risky, rules that don't fit among it. */
    List<Finding> check() {
        return Vacancy.check(source, rules);
    }

    @Override
    public void close() {
        source.close();
    }

    private static Session openWithAnswer(Configuration configuration, Terminal terminal, Limits limits) {
        char[] answer =
                terminal.askSecret("Password of " + configuration.user() + ": ").orElse(new char[0]);
        try {
            return open(configuration, new String(answer), limits);
        } catch (PoolInitializationException failure) {
            throw isRefusal(failure) ? refused(configuration, failure) : unreachable(configuration, failure);
        } finally {
            Arrays.fill(answer, '\0');
        }
    }

    private static Session open(Configuration configuration, String password, Limits limits) {
        HikariConfig pool = new HikariConfig();
        pool.setJdbcUrl(configuration.url());
        pool.setUsername(configuration.user());
        pool.setPassword(password);
        pool.setMinimumIdle(1);
        pool.setMaximumPoolSize(MOST_CONNECTIONS);
        pool.setInitializationFailTimeout(1);
        pool.setConnectionTimeout(LONGEST_WAIT_MILLIS);
        return new Session(new HikariDataSource(pool), configuration.rules(), limits);
    }

    private static void requireDriver(Configuration configuration) {
        try {
            DriverManager.getDriver(configuration.url());
        } catch (SQLException none) {
            throw new ToolException(
                    ExitStatus.WRONG_USAGE,
                    "The tool has no driver for the URL '" + configuration.url() + "'.",
                    "Use one that begins with jdbc:h2:, jdbc:postgresql:, jdbc:mariadb: or jdbc:sqlite:.",
                    none);
        }
    }

    /** SQLSTATE class 28 is invalid authorization; 08004 is a server that rejects the connection (ISO/IEC 9075-2). */
    private static boolean isRefusal(PoolInitializationException failure) {
        return failure.getCause() instanceof SQLException cause
                && cause.getSQLState() != null
                && (cause.getSQLState().startsWith("28") || cause.getSQLState().equals("08004"));
    }

    private static ToolException refused(Configuration configuration, Exception failure) {
        return new ToolException(
                ExitStatus.WRONG_USAGE,
                "The database doesn't let user '" + configuration.user() + "' in with this password.",
                "Set the environment variable " + configuration.passwordVariable()
                        + ", or run it in a terminal to be asked.",
                failure);
    }

    private static ToolException unreachable(Configuration configuration, Exception failure) {
        return new ToolException(
                ExitStatus.FAILED,
                "The database at '" + configuration.url() + "' can't be reached"
                        + (failure.getCause() == null ? "." : ": " + firstLine(failure.getCause())),
                "Check that it is running, and the 'url' in the configuration.",
                failure);
    }

    private static String firstLine(Throwable cause) {
        return String.valueOf(cause.getMessage()).lines().findFirst().orElse("");
    }
}
