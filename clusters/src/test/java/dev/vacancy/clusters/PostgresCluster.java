package dev.vacancy.clusters;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.awaitility.Awaitility;
import org.postgresql.ds.PGSimpleDataSource;

/** A server of PostgreSQL and a standby that follows it, on the loopback. */
final class PostgresCluster implements AutoCloseable {
    private static final String ACCOUNT = "postgres";
    private static final int PRIMARY = 0;
    private static final int STANDBY = 1;

    private final Path home = Program.folder("postgresql");
    private final Path programs;
    private final int[] ports = Program.freePorts(2);
    private final Process[] processes = new Process[2];

    private String following = "";

    private PostgresCluster(Path programs) {
        this.programs = programs;
    }

    /** Starts a primary alone. */
    static PostgresCluster startPrimary() {
        PostgresCluster cluster = new PostgresCluster(programs());
        Program.own(cluster.home, ACCOUNT);
        cluster.run("initdb", "-D", cluster.data(PRIMARY), "-U", ACCOUNT, "-A", "trust", "-E", "UTF8", "--no-sync");
        cluster.configure(
                PRIMARY,
                "fsync = off",
                "full_page_writes = on",
                "autovacuum = off",
                "wal_level = replica",
                "max_wal_senders = 5",
                "max_prepared_transactions = 10",
                "wal_receiver_status_interval = 1s",
                "hot_standby = on");
        cluster.start(PRIMARY);
        return cluster;
    }

    /** Starts a primary and a standby. */
    static PostgresCluster start() {
        PostgresCluster cluster = startPrimary();
        cluster.run(
                "pg_basebackup",
                "-D",
                cluster.data(STANDBY),
                "-h",
                "127.0.0.1",
                "-p",
                String.valueOf(cluster.ports[PRIMARY]),
                "-U",
                ACCOUNT,
                "-R",
                "-C",
                "-S",
                "follower",
                "-X",
                "stream",
                "--no-sync");
        cluster.configure(STANDBY, "fsync = off");
        cluster.start(STANDBY);
        return cluster;
    }

    private static Path programs() {
        Program.require("runuser");
        String[] versions = IntStream.iterate(20, version -> version >= 13, version -> version - 1)
                .mapToObj(version -> "/usr/lib/postgresql/" + version + "/bin/pg_ctl")
                .toArray(String[]::new);
        return Program.requireFile(versions).getParent();
    }

    private void run(String program, String... arguments) {
        List<String> command = Arrays.stream(arguments).collect(Collectors.toList());
        command.add(0, programs.resolve(program).toString());
        Program.run(Program.as(ACCOUNT, command), home.resolve(program + ".log"));
    }

    private void configure(int server, String... lines) {
        try {
            Files.writeString(
                    Path.of(data(server), "postgresql.auto.conf"),
                    String.join("\n", lines) + "\n",
                    StandardOpenOption.APPEND);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private void start(int server) {
        List<String> command = List.of(
                programs.resolve("postgres").toString(),
                "-D",
                data(server),
                "-p",
                String.valueOf(ports[server]),
                "-c",
                "listen_addresses=127.0.0.1",
                "-c",
                "unix_socket_directories=" + home);
        processes[server] = Program.start(Program.as(ACCOUNT, command), home.resolve("server" + server + ".log"));
        Servers.awaitValue(source(server, ACCOUNT), "select 1", "1");
    }

    private String data(int server) {
        return home.resolve("data" + server).toString();
    }

    int port() {
        return ports[PRIMARY];
    }

    /** Makes an empty database that the standby knows of too, and returns its name. */
    String emptyDatabase() {
        String name = "t" + UUID.randomUUID().toString().substring(0, 8);
        Servers.execute(primary(ACCOUNT), "create database " + name);
        if (processes[STANDBY] != null) {
            Servers.awaitValue(standby(name), "select 1", "1");
        }
        return name;
    }

    PGSimpleDataSource primary(String database) {
        return source(PRIMARY, database);
    }

    PGSimpleDataSource standby(String database) {
        return source(STANDBY, database);
    }

    /** Goes to whichever of the two writes. */
    PGSimpleDataSource writer(String database) {
        PGSimpleDataSource source = source(PRIMARY, database);
        source.setUrl("jdbc:postgresql://127.0.0.1:" + ports[PRIMARY] + ",127.0.0.1:" + ports[STANDBY] + "/" + database
                + "?targetServerType=primary&connectTimeout=2&loginTimeout=3&socketTimeout=10");
        source.setUser(ACCOUNT);
        return source;
    }

    private PGSimpleDataSource source(int server, String database) {
        PGSimpleDataSource source = new PGSimpleDataSource();
        source.setUrl("jdbc:postgresql://127.0.0.1:" + ports[server] + "/" + database);
        source.setUser(ACCOUNT);
        return source;
    }

    /** Has commits wait for the standby, or for nobody. */
    void await(boolean standby) {
        Servers.execute(
                primary(ACCOUNT),
                "alter system set synchronous_standby_names = '" + (standby ? "*" : "") + "'",
                "select pg_reload_conf()");
        Servers.awaitValue(primary(ACCOUNT), "show synchronous_standby_names", standby ? "*" : "");
    }

    /** Waits until the standby knows all that the primary does. */
    void awaitStandby() {
        String place = Servers.value(primary(ACCOUNT), "select pg_current_wal_lsn()");
        Servers.awaitValue(
                standby(ACCOUNT), "select (pg_last_wal_replay_lsn() >= '" + place + "'::pg_lsn)::text", "true");
    }

    /** Has the standby apply nothing more of what it gets. */
    void pauseReplay(boolean paused) {
        Servers.execute(standby(ACCOUNT), "select pg_wal_replay_" + (paused ? "pause" : "resume") + "()");
    }

    /** Has the standby get nothing more. */
    void cutStandby() {
        following = Servers.value(standby(ACCOUNT), "show primary_conninfo");
        follow("");
        Servers.awaitValue(standby(ACCOUNT), "select count(*) from pg_stat_wal_receiver", "0");
    }

    void resumeStandby() {
        follow(following);
    }

    private void follow(String primary) {
        Servers.execute(
                standby(ACCOUNT),
                "alter system set primary_conninfo = '" + primary.replace("'", "''") + "'",
                "select pg_reload_conf()");
    }

    /** Ends the primary as a loss of power does. */
    void killPrimary() {
        Program.kill(processes[PRIMARY]);
    }

    /** Makes the standby the server that writes. */
    void promote() {
        run("pg_ctl", "promote", "-w", "-D", data(STANDBY));
        Awaitility.await()
                .atMost(Duration.ofSeconds(30))
                .ignoreExceptions()
                .until(() -> Servers.value(standby(ACCOUNT), "select pg_is_in_recovery()::text")
                        .equals("false"));
    }

    @Override
    public void close() {
        for (Process process : processes) {
            if (process != null) {
                Program.kill(process);
            }
        }
    }
}
