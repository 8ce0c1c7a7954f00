package dev.vacancy.clusters;

import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;

/** Tests on a cluster whose nodes all write: locks are known to one node only, and what two of them do is held together when they commit. */
abstract class OnGalera {
    static final By NIGHTLY = By.program("nightly");
    static final RuleBook KEPT = RuleBook.bySchema().trail(Trail.defaults());
    static final int NODES = 3;

    static GaleraCluster cluster;

    String database;

    @BeforeAll
    static void start() {
        cluster = GaleraCluster.start();
    }

    @AfterAll
    static void stop() {
        if (cluster != null) {
            cluster.close();
        }
    }

    @BeforeEach
    void makeTables() {
        for (int each = 0; each < NODES; each++) {
            cluster.awaitSize(each, NODES);
        }
        database = cluster.emptyDatabase();
        Servers.execute(
                node(0),
                "create table hive (hive_id int primary key, name varchar(40), gone_at datetime)",
                "create table treatment (treatment_id int primary key, hive_id int not null,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table visit (visit_id int primary key auto_increment, hive_id int, key (hive_id))");
    }

    DataSource node(int node) {
        return cluster.source(node, database);
    }

    Vacancy on(int node, RuleBook rules) {
        return Vacancy.over(node(node), rules);
    }

    void fill(int hives) {
        Servers.execute(
                node(0),
                "insert into hive (hive_id, name) values " + rows(hives, hive -> "(" + hive + ", 'hive " + hive + "')"),
                "insert into treatment values " + rows(hives, hive -> "(" + hive + ", " + hive + ")"));
        for (int each = 0; each < NODES; each++) {
            Servers.awaitValue(node(each), "select count(*) from treatment", String.valueOf(hives));
        }
    }

    private static String rows(int number, IntFunction<String> row) {
        return IntStream.rangeClosed(1, number).mapToObj(row).collect(Collectors.joining(", "));
    }
}
