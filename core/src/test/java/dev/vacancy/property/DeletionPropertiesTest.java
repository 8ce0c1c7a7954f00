package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Vacancy;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.BlockedException;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.plan.By;
import dev.vacancy.property.Cases.Case;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.StalePlanException;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * Random schemas, records, rules and selections, on each database: what a run leaves behind is what a plain model says,
 * and, with the schema's own rules, what the database itself would have left. {@code -Djqwik.tries.default=20000} makes it
 * a long run.
 */
class DeletionPropertiesTest {
    @Property
    void onH2(@ForAll("cases") Case given) {
        holdOn(Engine.H2, Engine.H2.database(), given);
    }

    @Property
    void onPostgres(@ForAll("cases") Case given) {
        Database database = Shared.POSTGRESQL.get();
        database.run("drop schema public cascade", "create schema public");
        holdOn(Engine.POSTGRESQL, database, given);
    }

    @Property
    void onMariaDb(@ForAll("cases") Case given) {
        Database database = Shared.MARIADB.get();
        holdOn(Engine.MARIADB, database, given);
        database.run(
                "set foreign_key_checks = 0",
                "drop table " + String.join(", ", given.world().tableNames()));
    }

    @Property
    void onSqlite(@ForAll("cases") Case given) {
        holdOn(Engine.SQLITE, Engine.SQLITE.database(), given);
    }

    @Provide
    Arbitrary<Case> cases() {
        return Cases.all();
    }

    /** One database for all cases, where making one takes long. */
    private static final class Shared {
        static final Supplier<Database> POSTGRESQL = once(Engine.POSTGRESQL::database);
        static final Supplier<Database> MARIADB = once(Engine.MARIADB::database);

        private static Supplier<Database> once(Supplier<Database> make) {
            List<Database> made = new ArrayList<>();
            return () -> {
                if (made.isEmpty()) {
                    made.add(make.get());
                }
                return made.get(0);
            };
        }
    }

    private static void holdOn(Engine engine, Database database, Case given) {
        Case plain = new Case(given.world().bySchema(), given.root(), given.keys());
        boolean declared = given.world().links().stream().allMatch(World.Link::declared);
        given.world().script(engine).forEach(database::run);
        if (declared) {
            // A database may refuse because of a child that another of its links would have taken along later; a plan
            // knows better. Wherever it does delete, what it leaves must be the same.
            afterNativeDelete(database, plain)
                    .ifPresent(left ->
                            assertThat(afterModel(plain).map(World::contents)).hasValue(left));
        }
        assertLikeModel(database, given);
    }

    private static void assertLikeModel(Database database, Case given) {
        World world = given.world();
        Vacancy vacancy = Vacancy.over(database.source(), world.rules());
        Optional<World> expected = afterModel(given);
        Optional<Approval> approval = approve(vacancy, given);
        assertThat(database.contents(world.tableNames())).isEqualTo(world.contents());
        assertThat(approval.isPresent()).isEqualTo(expected.isPresent());
        if (approval.isEmpty()) {
            return;
        }

        Outcome outcome = vacancy.run(approval.get());

        List<String> after = database.contents(world.tableNames());
        assertThat(after).isEqualTo(expected.get().contents());
        assertThat(outcome.counts()).isEqualTo(gone(world, expected.get()));
        assertThat(approval.get().plan().counts()).isEqualTo(outcome.counts());
        world.orphanQueries().forEach(query -> assertThat(database.rows(query)).containsExactly("0"));
        if (outcome.total() > 0) {
            assertThatThrownBy(() -> vacancy.run(approval.get())).isInstanceOf(StalePlanException.class);
            assertThat(database.contents(world.tableNames())).isEqualTo(after);
        }
    }

    /** Nothing if a child forbids the deletion, or a parent who should take one over isn't there or goes too. */
    private static Optional<Approval> approve(Vacancy vacancy, Case given) {
        try {
            return Optional.of(Approval.of(
                    vacancy.plan(Selection.of("t" + given.root()).keys(given.selected()), By.user("odile"))));
        } catch (BlockedException blocked) {
            return Optional.empty();
        } catch (InvalidRequestException refused) {
            assertThat(refused).hasMessageContaining("who should take over");
            return Optional.empty();
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
