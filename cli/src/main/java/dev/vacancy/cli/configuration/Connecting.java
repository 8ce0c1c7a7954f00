package dev.vacancy.cli.configuration;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import com.zaxxer.hikari.pool.HikariPool.PoolInitializationException;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Terminal;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.internal.yaml.Address;
import dev.vacancy.internal.yaml.Configuration;
import dev.vacancy.internal.yaml.ConfigurationReader;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.h2.jdbcx.JdbcDataSource;

/**
 * Connects to the database that a configuration names, beside what else a command begins with: to open a database takes as
 * long as to read the arguments.
 */
public final class Connecting {
    private static final int LONGEST_WAIT_MILLIS = 10_000;
    private static final long LONGEST_FAREWELL_MILLIS = 1_000;

    /** One is enough for a deletion; a worker also looks for what is due. */
    private static final int MOST_CONNECTIONS = 4;

    private final Path file;
    private final FutureTask<ConfigurationReader> reading;
    private final FutureTask<OpenDatabase> opening;

    private Connecting(Path file) {
        this.file = file;
        this.reading = new FutureTask<>(() -> ConfigurationReader.begin(file));
        this.opening = new FutureTask<>(() -> {
            Address address = reading.get().address().orElseThrow();
            return open(address, address.password().orElse(""));
        });
    }

    /** Begins. What goes wrong is told to whoever waits for the session. */
    public static Connecting to(Path file) {
        Connecting connecting = new Connecting(file);
        Thread thread = new Thread(
                () -> {
                    connecting.reading.run();
                    connecting.opening.run();
                },
                "connecting");
        thread.setDaemon(true);
        thread.start();
        return connecting;
    }

    public boolean isTo(Path other) {
        return file.equals(other);
    }

    /**
     * Reads the rules while the database opens, and waits for it. A password comes from the environment; when the database
     * refuses and there is a person, it is asked for.
     */
    public Session session(Terminal terminal) {
        Configuration configuration = result(reading).whole();
        return Session.of(database(configuration.address(), terminal), configuration.rules());
    }

    /** Closes what is open and nobody waits for any more. */
    public void leave() {
        try {
            opening.get(LONGEST_FAREWELL_MILLIS, TimeUnit.MILLISECONDS).close();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException nothing) {
            // Nothing is open, and the process ends.
        }
    }

    private OpenDatabase database(Address address, Terminal terminal) {
        try {
            return result(opening);
        } catch (ToolException refusal) {
            if (isRefusal(refusal.getCause()) && address.password().isEmpty() && terminal.isThere()) {
                return openWithAnswer(address, terminal);
            }
            throw refusal;
        }
    }

    private static <T> T result(FutureTask<T> task) {
        try {
            return task.get();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("Interrupted before the database was open; nothing has been done.", stop);
        } catch (ExecutionException failure) {
            if (failure.getCause() instanceof RuntimeException wrong) {
                throw wrong;
            }
            throw new IllegalStateException(failure.getCause());
        }
    }

    private static OpenDatabase openWithAnswer(Address address, Terminal terminal) {
        char[] answer =
                terminal.askSecret("Password of " + address.user() + ": ").orElse(new char[0]);
        try {
            return open(address, new String(answer));
        } finally {
            Arrays.fill(answer, '\0');
        }
    }

    private static OpenDatabase open(Address address, String password) {
        return OpenDocuments.isAt(address) ? OpenDocuments.open(address, password) : openTables(address, password);
    }

    private static OpenTables openTables(Address address, String password) {
        HikariConfig pool = new HikariConfig();
        if (address.url().startsWith("jdbc:h2:")) {
            // The embedded database doesn't wait until the drivers of all others are loaded.
            JdbcDataSource embedded = new JdbcDataSource();
            embedded.setURL(address.url());
            embedded.setUser(address.user());
            embedded.setPassword(password);
            pool.setDataSource(embedded);
        } else {
            requireDriver(address);
            pool.setJdbcUrl(address.url());
            pool.setUsername(address.user());
            pool.setPassword(password);
        }
        pool.setMinimumIdle(1);
        pool.setMaximumPoolSize(MOST_CONNECTIONS);
        pool.setInitializationFailTimeout(1);
        pool.setConnectionTimeout(LONGEST_WAIT_MILLIS);
        try {
            return new OpenTables(new HikariDataSource(pool));
        } catch (PoolInitializationException closed) {
            throw refusal(address, closed.getCause());
        }
    }

    private static void requireDriver(Address address) {
        try {
            DriverManager.getDriver(address.url());
        } catch (SQLException none) {
            throw new ToolException(
                    ExitStatus.WRONG_USAGE,
                    "The tool has no driver for the URL '" + address.url() + "'.",
                    "Use one that begins with jdbc:h2:, jdbc:postgresql:, jdbc:mariadb: or jdbc:sqlite:, or with mongodb: for documents.",
                    none);
        }
    }

    /** SQLSTATE class 28 is invalid authorization; 08004 is a server that rejects the connection (ISO/IEC 9075-2). */
    private static boolean isRefusal(Throwable why) {
        return OpenDocuments.isRefusal(why)
                || (why instanceof SQLException closed
                        && closed.getSQLState() != null
                        && (closed.getSQLState().startsWith("28")
                                || closed.getSQLState().equals("08004")));
    }

    static ToolException refusal(Address address, Throwable why) {
        if (isRefusal(why)) {
            return new ToolException(
                    ExitStatus.WRONG_USAGE,
                    "The database doesn't let user '" + address.user() + "' in with this password.",
                    "Set the environment variable " + address.passwordVariable()
                            + ", or run it in a terminal to be asked.",
                    why);
        }
        String reason = why == null || why.getMessage() == null
                ? "."
                : ": " + why.getMessage().lines().findFirst().orElse("");
        return new ToolException(
                ExitStatus.FAILED,
                "The database at '" + address.url() + "' can't be reached" + reason,
                "Check that it is running, and the 'url' in the configuration.",
                why);
    }
}
