package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.confirm.Approval;
import dev.vacancy.criteria.Selection;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;

/** The whole way once: plan, approve, run, on the data of the demo. */
class DeleteByKeyTest {
    private static final By ODILE = By.user("odile").because("colony lost");

    @OnEveryEngine
    void aHiveGoesWithAllThatDependsOnIt(Engine engine) throws Exception {
        Database larkmoor = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(larkmoor.source());

        Plan plan = vacancy.plan(Selection.of("hive").key(12), ODILE);
        System.out.println(plan.tree());
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts()).isEqualTo(plan.counts()).contains(entry("hive", 1L), entry("reading", 500L));
        assertThat(larkmoor.count("hive")).isEqualTo(39);
        assertThat(larkmoor.count("reading")).isEqualTo(19_500);
        assertThat(larkmoor.rows("select hive_id from queen where queen_id = 12"))
                .containsExactly("null");
    }

    private static Database larkmoor(Engine engine) throws Exception {
        Database database = engine.database();
        try (Connection connection = database.connect()) {
            Larkmoor.create(connection, 1);
        }
        return database;
    }
}
