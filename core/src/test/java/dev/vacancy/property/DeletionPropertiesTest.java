package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Vacancy;
import dev.vacancy.confirm.Approval;
import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.property.Cases.Case;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * Random schemas, records and selections: what a run leaves behind is what a plain model says, and what the database
 * itself would have left. {@code -Djqwik.tries.default=20000} makes it a long run.
 */
class DeletionPropertiesTest {
    @Property
    void onH2ARunDoesWhatTheModelSays(@ForAll("cases") Case given) {
        Database database = Engine.H2.database();
        given.world().script().forEach(database::run);

        assertLikeModel(database, given);
        database.run("shutdown");
    }

    @Property
    void onPostgresARunDoesWhatTheModelAndTheDatabaseItselfSay(@ForAll("cases") Case given) {
        Database database = SharedPostgres.DATABASE;
        database.run("drop schema public cascade", "create schema public");
        given.world().script().forEach(database::run);

        // PostgreSQL may refuse because of a child that another of its links would have taken along later; a plan knows
        // better. Wherever it does delete, what it leaves must be the same.
        afterNativeDelete(database, given)
                .ifPresent(left ->
                        assertThat(afterModel(given).map(World::contents)).hasValue(left));
        assertLikeModel(database, given);
    }

    @Provide
    Arbitrary<Case> cases() {
        return Cases.all();
    }

    private static final class SharedPostgres {
        static final Database DATABASE = Engine.POSTGRESQL.database();
    }

    private static void assertLikeModel(Database database, Case given) {
        World world = given.world();
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(Selection.of("t" + given.root()).keys(given.keys()), By.user("odile"));
        assertThat(database.contents(world.tableNames())).isEqualTo(world.contents());

        Optional<World> expected = afterModel(given);
        assertThat(plan.blockers().isEmpty()).isEqualTo(expected.isPresent());
        if (expected.isPresent()) {
            vacancy.run(Approval.of(plan));
            assertThat(database.contents(world.tableNames()))
                    .isEqualTo(expected.get().contents());
            assertThat(plan.counts()).isEqualTo(gone(world, expected.get()));
        }
    }

    private static Optional<World> afterModel(Case given) {
        return Model.delete(given.world(), given.root(), given.keys());
    }

    private static Map<String, Long> gone(World before, World after) {
        Map<String, Long> gone = new LinkedHashMap<>();
        for (int table = 0; table < before.tables(); table++) {
            int count = before.records().get(table).size()
                    - after.records().get(table).size();
            if (count > 0) {
                gone.put("t" + table, (long) count);
            }
        }
        return gone;
    }

    /** What the database leaves when it is told to delete by itself, or nothing if it refuses. */
    private static Optional<List<String>> afterNativeDelete(Database database, Case given) {
        String keys = given.keys().stream().map(String::valueOf).collect(Collectors.joining(", "));
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            try {
                statement.executeUpdate("delete from t" + given.root() + " where id in (" + keys + ")");
                return Optional.of(Database.contents(connection, given.world().tableNames()));
            } catch (SQLException refused) {
                return Optional.empty();
            } finally {
                connection.rollback();
            }
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }
}
