package dev.vacancy.clusters;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.postgresql.ds.PGSimpleDataSource;

/** A pooler in front of a server of PostgreSQL, with fewer connections to it than clients have. */
final class Pooler implements AutoCloseable {
    private static final String ACCOUNT = "postgres";
    private static final int CONNECTIONS = 3;

    private final Process process;
    private final int port;

    private Pooler(Process process, int port) {
        this.process = process;
        this.port = port;
    }

    /** Starts one that hands out a connection for each transaction, statement or session. */
    static Pooler start(PostgresCluster servers, String mode) {
        String program = Program.require("pgbouncer");
        Path home = Program.folder("pgbouncer");
        int port = Program.freePorts(1)[0];
        try {
            Files.writeString(home.resolve("users.txt"), "\"" + ACCOUNT + "\" \"\"\n");
            Files.writeString(
                    home.resolve("pooler.ini"),
                    String.join(
                            "\n",
                            "[databases]",
                            "* = host=127.0.0.1 port=" + servers.port(),
                            "[pgbouncer]",
                            "listen_addr = 127.0.0.1",
                            "listen_port = " + port,
                            "unix_socket_dir =",
                            "auth_type = trust",
                            "auth_file = " + home.resolve("users.txt"),
                            "pool_mode = " + mode,
                            "default_pool_size = " + CONNECTIONS,
                            "max_client_conn = 100",
                            "ignore_startup_parameters = extra_float_digits",
                            ""));
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
        Program.own(home, ACCOUNT);
        Process process = Program.start(
                Program.as(ACCOUNT, List.of(program, home.resolve("pooler.ini").toString())), home.resolve("log"));
        Pooler pooler = new Pooler(process, port);
        Servers.awaitValue(pooler.source(ACCOUNT, "?prepareThreshold=0"), "select 1", "1");
        return pooler;
    }

    PGSimpleDataSource source(String database, String options) {
        PGSimpleDataSource source = new PGSimpleDataSource();
        source.setUrl("jdbc:postgresql://127.0.0.1:" + port + "/" + database + options);
        source.setUser(ACCOUNT);
        return source;
    }

    @Override
    public void close() {
        Program.kill(process);
    }
}
