package dev.vacancy.clusters;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.UUID;
import java.util.stream.IntStream;
import org.mariadb.jdbc.MariaDbDataSource;

/** Three servers of MariaDB that are one database by synchronous replication, on the loopback. */
final class GaleraCluster implements AutoCloseable {
    private static final int NODES = 3;
    private static final String USER = "larkmoor";
    private static final String SIZE =
            "select variable_value from information_schema.global_status where variable_name = 'wsrep_cluster_size'";
    private static final String STATE =
            "select variable_value from information_schema.global_status where variable_name = 'wsrep_local_state_comment'";

    private final Path home = Program.folder("galera");
    private final String server = Program.require("mariadbd");
    private final Path library =
            Program.requireFile("/usr/lib/galera/libgalera_smm.so", "/usr/lib64/galera-4/libgalera_smm.so");
    private final int[] ports = Program.freePorts(NODES * 4);
    private final Process[] processes = new Process[NODES];

    private GaleraCluster() {}

    static GaleraCluster start() {
        String install = Program.require("mariadb-install-db");
        Program.require("rsync");
        GaleraCluster cluster = new GaleraCluster();
        try {
            for (int node = 0; node < NODES; node++) {
                Files.createDirectories(cluster.folder(node).resolve("data"));
                Files.createDirectories(cluster.folder(node).resolve("tmp"));
                Program.own(cluster.folder(node), "mysql");
            }
            List<String> command = new ArrayList<>(List.of(
                    install,
                    "--no-defaults",
                    "--datadir=" + cluster.folder(0).resolve("data"),
                    "--auth-root-authentication-method=normal",
                    "--skip-test-db"));
            if (Program.isRoot()) {
                command.add("--user=mysql");
            }
            Program.run(command, cluster.home.resolve("install.log"));
            Files.writeString(
                    cluster.home.resolve("init.sql"),
                    "create user if not exists " + USER + "@'%' identified by '" + USER + "';\ngrant all on *.* to "
                            + USER + "@'%' with grant option;\n");
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
        cluster.startNode(0, "gcomm://", "--wsrep-new-cluster", "--init-file=" + cluster.home.resolve("init.sql"));
        cluster.startNode(1);
        cluster.startNode(2);
        return cluster;
    }

    /** Starts a node and waits until it answers for the data. */
    void startNode(int node) {
        startNode(
                node,
                "gcomm://"
                        + String.join(
                                ",",
                                IntStream.range(0, NODES)
                                        .mapToObj(each -> "127.0.0.1:" + port(each, 1))
                                        .toList()));
    }

    private void startNode(int node, String address, String... more) {
        List<String> command = new ArrayList<>(List.of(
                server,
                "--no-defaults",
                "--datadir=" + folder(node).resolve("data"),
                "--tmpdir=" + folder(node).resolve("tmp"),
                "--socket=" + folder(node).resolve("s"),
                "--pid-file=" + folder(node).resolve("pid"),
                "--port=" + port(node, 0),
                "--bind-address=127.0.0.1",
                "--character-set-server=utf8mb4",
                "--binlog-format=ROW",
                "--innodb-autoinc-lock-mode=2",
                "--innodb-flush-log-at-trx-commit=0",
                "--innodb-buffer-pool-size=64M",
                "--wsrep-on=ON",
                "--wsrep-provider=" + library,
                "--wsrep-cluster-address=" + address,
                "--wsrep-node-address=127.0.0.1",
                "--wsrep-node-name=node" + node,
                "--wsrep-sst-method=rsync",
                "--wsrep-sst-receive-address=127.0.0.1:" + port(node, 3),
                "--wsrep-provider-options=" + providerOptions(node)));
        if (Program.isRoot()) {
            command.add("--user=mysql");
        }
        command.addAll(List.of(more));
        processes[node] = Program.start(command, home.resolve("node" + node + ".log"));
        Servers.awaitValue(source(node, ""), STATE, "Synced");
    }

    /** Whoever says nothing is taken for lost after two seconds, so that tests needn't wait. */
    private String providerOptions(int node) {
        return String.join(
                ";",
                "gmcast.listen_addr=tcp://127.0.0.1:" + port(node, 1),
                "ist.recv_addr=127.0.0.1:" + port(node, 2),
                "base_port=" + port(node, 1),
                "evs.keepalive_period=PT0.3S",
                "evs.inactive_check_period=PT0.3S",
                "evs.suspect_timeout=PT1S",
                "evs.inactive_timeout=PT2S",
                "evs.install_timeout=PT2S",
                "repl.causal_read_timeout=PT5S");
    }

    private int port(int node, int purpose) {
        return ports[node * 4 + purpose];
    }

    private Path folder(int node) {
        return home.resolve("n" + node);
    }

    /** Makes an empty database, and returns its name. */
    String emptyDatabase() {
        String name = "t" + UUID.randomUUID().toString().substring(0, 8).toLowerCase(Locale.ROOT);
        Servers.execute(source(0, ""), "create database " + name);
        return name;
    }

    /** A data source over one node. */
    MariaDbDataSource source(int node, String database) {
        return source(database, "", node);
    }

    /** A data source that goes to the first of some nodes that answers. */
    MariaDbDataSource source(String database, String options, int... nodes) {
        String hosts = String.join(
                ",",
                IntStream.of(nodes)
                        .mapToObj(node -> "address=(host=127.0.0.1)(port=" + port(node, 0) + ")")
                        .toList());
        try {
            MariaDbDataSource source = new MariaDbDataSource(
                    "jdbc:mariadb:sequential://" + hosts + "/" + database + "?connectTimeout=2000" + options);
            source.setUser(USER);
            source.setPassword(USER);
            return source;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Ends a node as a loss of power does. */
    void kill(int node) {
        Program.kill(processes[node]);
    }

    /** Has a node say nothing more, as if its network were cut. */
    void silence(int node) {
        Program.signal(processes[node], "STOP");
    }

    void wake(int node) {
        Program.signal(processes[node], "CONT");
    }

    /** Waits until so many nodes are one cluster, as a node sees it. */
    void awaitSize(int node, int size) {
        Servers.awaitValue(source(node, ""), SIZE, String.valueOf(size));
        Servers.awaitValue(source(node, ""), STATE, "Synced");
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
