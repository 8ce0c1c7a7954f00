package dev.vacancy.examples.web;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Period;
import java.util.Map;

/** The application on the demo's data, in memory. */
final class DemoSite {
    private final HikariDataSource database = new HikariDataSource();
    private final RuleBook rules;
    private final LarkmoorWeb web;

    private DemoSite() throws Exception {
        database.setJdbcUrl("jdbc:h2:mem:web" + System.nanoTime());
        try (Connection connection = database.getConnection()) {
            Larkmoor.create(connection, 1);
        }
        rules = RuleBook.bySchema()
                .on(
                        "batch_hive.hive_id",
                        Clause.block("a sold batch must stay traceable").where("honey_batch.sold_on is not null"),
                        Clause.cascade())
                .ignoringChangesIn("reading")
                .on("inspection.keeper_id", Clause.reassign())
                .on("placement.keeper_id", Clause.keep())
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(15)))
                .consent("reading", ConsentRule.atLeast(Consent.NONE).numberBeyond(10_000))
                .followUp("inspection", FollowUp.named("letters").columns("inspected_on"))
                .trail(Trail.defaults());
        Ddl.of(database, rules).apply();
        web = LarkmoorWeb.start(database, rules, Map.of(), 0);
    }

    static DemoSite start() throws Exception {
        return new DemoSite();
    }

    /** Has another process try to handle the letters that follow, in vain. */
    void failAtLetters() {
        Vacancy.over(database, rules)
                .withFollowUp("letters", message -> {
                    throw new IllegalStateException("no <paper>");
                })
                .followUps()
                .work();
    }

    String address() {
        return web.address();
    }

    void execute(String sql) throws SQLException {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    long number(String query) throws SQLException {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement();
                var row = statement.executeQuery(query)) {
            row.next();
            return row.getLong(1);
        }
    }

    /** The newest hive of the list that nothing forbids to delete. */
    int freeHive() throws SQLException {
        return (int) number("select hive_id from hive h where not exists (select 1 from batch_hive b where b.hive_id ="
                + " h.hive_id) and not exists (select 1 from treatment t where t.hive_id = h.hive_id) order by set_up_on"
                + " desc, hive_id limit 1");
    }

    void stop() {
        web.close();
        database.close();
    }
}
