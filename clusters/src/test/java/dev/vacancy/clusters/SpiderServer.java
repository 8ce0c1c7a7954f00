package dev.vacancy.clusters;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.mariadb.jdbc.MariaDbDataSource;

/** A server of MariaDB whose tables may lead to other servers: to itself, here, over the network. */
final class SpiderServer implements AutoCloseable {
    private static final String USER = "larkmoor";

    private final int port;
    private final Process process;

    private SpiderServer(int port, Process process) {
        this.port = port;
        this.process = process;
    }

    static SpiderServer start() {
        String install = Program.require("mariadb-install-db");
        String program = Program.require("mariadbd");
        Program.requireFile("/usr/lib/mysql/plugin/ha_spider.so", "/usr/lib64/mysql/plugin/ha_spider.so");
        Path home = Program.folder("spider");
        int port = Program.freePorts(1)[0];
        try {
            Files.createDirectories(home.resolve("data"));
            Files.writeString(
                    home.resolve("init.sql"),
                    "create user if not exists " + USER + "@'%' identified by '" + USER + "';\ngrant all on *.* to "
                            + USER + "@'%' with grant option;\n");
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
        Program.own(home, "mysql");
        List<String> account = Program.isRoot() ? List.of("--user=mysql") : List.of();
        List<String> installation = new ArrayList<>(
                List.of(install, "--no-defaults", "--datadir=" + home.resolve("data"), "--skip-test-db"));
        installation.addAll(account);
        Program.run(installation, home.resolve("install.log"));
        List<String> command = new ArrayList<>(List.of(
                program,
                "--no-defaults",
                "--datadir=" + home.resolve("data"),
                "--socket=" + home.resolve("s"),
                "--pid-file=" + home.resolve("pid"),
                "--port=" + port,
                "--bind-address=127.0.0.1",
                "--init-file=" + home.resolve("init.sql"),
                "--plugin-load-add=ha_spider",
                "--spider-same-server-link=1"));
        command.addAll(account);
        SpiderServer server = new SpiderServer(port, Program.start(command, home.resolve("log")));
        Servers.awaitValue(
                server.source(""), "select support from information_schema.engines where engine = 'SPIDER'", "YES");
        return server;
    }

    MariaDbDataSource source(String database) {
        try {
            MariaDbDataSource source = new MariaDbDataSource("jdbc:mariadb://127.0.0.1:" + port + "/" + database);
            source.setUser(USER);
            source.setPassword(USER);
            return source;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Says in the storage engine's words where a table's records are. */
    String leadingTo(String database, String table) {
        return "wrapper \"mysql\", host \"127.0.0.1\", port \"" + port + "\", user \"" + USER + "\", password \"" + USER
                + "\", database \"" + database + "\", table \"" + table + "\"";
    }

    @Override
    public void close() {
        Program.kill(process);
    }
}
