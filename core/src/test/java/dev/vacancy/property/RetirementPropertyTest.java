package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.SchemaDump;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.nio.file.Path;
import java.time.Period;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.UUID;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/** Whatever a schema is, a column or a table that retires and comes back leaves it as its database tells it, and its content as it was. */
class RetirementPropertyTest {
    private static final int CASES = Integer.getInteger("vacancy.test.retirements", 8);
    private static final By ODILE = By.user("odile");

    @TempDir
    Path folder;

    @TestFactory
    Stream<DynamicTest> whatRetiresAndComesBackIsAsItWas() {
        return Arrays.stream(Engine.values())
                .flatMap(engine -> IntStream.range(0, CASES)
                        .mapToObj(
                                number -> DynamicTest.dynamicTest(engine + " " + number, () -> check(engine, number))));
    }

    private void check(Engine engine, int number) {
        RandomSchema schema = new RandomSchema(engine, new Random(31L * number + 7));
        Database database = schema.make();
        Ddl.of(database.source(), Ddl.Part.RETIREMENTS).apply();
        List<String> before = SchemaDump.of(engine, database);
        List<String> contents = schema.contents();

        for (int turn = 0; turn < 3; turn++) {
            thereAndBack(database, schema, turn);
            assertThat(SchemaDump.of(engine, database)).as(schema.toString()).isEqualTo(before);
            assertThat(schema.contents()).as(schema.toString()).isEqualTo(contents);
        }
    }

    private void thereAndBack(Database database, RandomSchema schema, int turn) {
        Retirement wish = schema.something().keptFor(Period.ZERO);
        Vacancy vacancy = Vacancy.over(database.source(), RuleBook.bySchema());
        RetirementPlan plan = vacancy.plan(wish, ODILE);
        String[] along = plan.dependents().stream()
                .filter(object -> object.fate() == Dependent.Fate.IN_THE_WAY
                        && object.remedy().isEmpty())
                .map(Dependent::name)
                .toArray(String[]::new);
        plan = vacancy.plan(wish.along(along), ODILE);
        if (plan.isBlocked()) {
            return;
        }
        UUID id = agreed(vacancy, plan);
        Vacancy later = Vacancy.over(database.source(), RuleBook.bySchema());
        if (turn != 1) {
            agreed(later, later.retirements().planDrop(id, folder, ODILE));
        }
        if (later.retirements().planReturn(id, ODILE).isBlocked()) {
            schema.withoutTrigger(() -> agreed(later, later.retirements().planReturn(id, ODILE)));
        } else {
            agreed(later, later.retirements().planReturn(id, ODILE));
        }
    }

    private static UUID agreed(Vacancy vacancy, RetirementPlan plan) {
        Question question = Question.about(plan);
        return vacancy.retire(question.answer(question.typed().orElse("yes")).orElseThrow())
                .id();
    }

    /** Tables with whatever their database can have on them. */
    private static final class RandomSchema {
        private static final List<String> NAMES = List.of("hive", "frame", "\"Order\"", "\"bee keeper\"");
        private final Engine engine;
        private final Random random;
        private final Database database;
        private final List<String> made = new ArrayList<>();
        private final List<String> tables = new ArrayList<>();
        private final List<List<String>> columns = new ArrayList<>();

        RandomSchema(Engine engine, Random random) {
            this.engine = engine;
            this.random = random;
            this.database = engine.database();
        }

        Database make() {
            int count = 1 + random.nextInt(NAMES.size());
            for (int i = 0; i < count; i++) {
                table(NAMES.get(i), i);
            }
            views();
            triggers();
            return database;
        }

        private void run(String sql) {
            made.add(sql);
            database.run(sql);
        }

        private String pick(String... of) {
            return of[random.nextInt(of.length)];
        }

        private boolean chance(int percent) {
            return random.nextInt(100) < percent;
        }

        private void table(String name, int number) {
            List<String> parts = new ArrayList<>();
            List<String> names = new ArrayList<>();
            parts.add(key());
            names.add("id");
            int count = 2 + random.nextInt(4);
            for (int i = 0; i < count; i++) {
                String column = pick("c", "\"Column\"", "wood", "d") + i;
                column = column.contains("\"") ? column.replace("\"", "").replaceAll("(.*)(\\d)", "\"$1 $2\"") : column;
                parts.add(column + " " + column(column));
                names.add(column);
            }
            if (chance(30) && !parts.get(0).contains("auto_increment")) {
                parts.add("twice " + pick("int", "bigint") + " generated always as (id * 2)" + stored());
            }
            boolean linked = number > 0 && chance(70);
            if (linked) {
                parts.add("parent_id " + keyType() + (chance(50) ? " not null" : ""));
                names.add("parent_id");
            }
            if (chance(40)) {
                parts.add(pick("", "constraint \"" + number + " unique\" ") + "unique (" + pick("id, ", "")
                        + names.get(1) + ")");
            }
            if (chance(40)) {
                parts.add(pick("", "constraint ck" + number + " ") + "check (" + names.get(1) + " is null or "
                        + (parts.get(0).contains("auto_increment") ? "2 > 1" : "id > 0") + ")");
            }
            if (linked) {
                parts.add(pick("", "constraint \"link of " + number + "\" ") + "foreign key (parent_id) references "
                        + tables.get(random.nextInt(tables.size())) + " (id)" + pick("", " on delete cascade"));
            }
            tables.add(name);
            columns.add(names);
            run("create table " + name + " (" + String.join(", ", parts) + ")" + options());
            index(name, names, number);
            comment(name, names);
            fill(name, names);
        }

        private String stored() {
            return switch (engine) {
                case H2 -> "";
                case POSTGRESQL -> " stored";
                default -> pick(" stored", " virtual");
            };
        }

        private String options() {
            return engine == Engine.POSTGRESQL && chance(20) ? " with (fillfactor=70)" : "";
        }

        private String key() {
            return switch (engine) {
                case H2 -> "id int " + pick("", "generated by default as identity ") + "primary key";
                case POSTGRESQL ->
                    "id "
                            + pick(
                                    "int primary key",
                                    "serial primary key",
                                    "int generated by default as identity primary key");
                case MARIADB -> "id int " + pick("", "auto_increment ") + "primary key";
                case SQLITE -> "id integer primary key" + pick("", " autoincrement");
            };
        }

        private String keyType() {
            return engine == Engine.SQLITE ? "integer" : "int";
        }

        private String column(String name) {
            String type = switch (engine) {
                case H2 ->
                    pick(
                            "varchar(30)",
                            "int",
                            "decimal(10, 2)",
                            "timestamp(9)",
                            "boolean",
                            "varbinary(20)",
                            "uuid",
                            "double");
                case POSTGRESQL ->
                    pick(
                            "varchar(30)",
                            "text",
                            "int",
                            "numeric(10, 2)",
                            "timestamptz",
                            "boolean",
                            "bytea",
                            "uuid",
                            "jsonb",
                            "int[]",
                            "double precision");
                case MARIADB ->
                    pick(
                            "varchar(30)",
                            "text",
                            "int",
                            "decimal(10, 2)",
                            "datetime(6)",
                            "varbinary(20)",
                            "double",
                            "timestamp null",
                            "enum('a','b')");
                case SQLITE -> pick("text", "integer", "real", "blob", "numeric");
            };
            boolean text = type.startsWith("varchar") || (engine == Engine.SQLITE && type.equals("text"));
            String more = text && chance(40) ? " default 'it''s, not (null'" : "";
            return type
                    + more
                    + (text && chance(40) ? " not null" : "")
                    + (text && chance(15) ? " unique" : "")
                    + (text && chance(20) ? " check (" + name + " <> '')" : "")
                    + (engine == Engine.SQLITE && text && chance(30) ? " collate nocase" : "");
        }

        private void index(String name, List<String> names, int number) {
            for (int i = 0; i < random.nextInt(3); i++) {
                String column = names.get(1 + random.nextInt(names.size() - 1));
                boolean second = chance(40);
                String unique = second && chance(50) ? "unique " : "";
                try {
                    run("create " + unique + "index ix" + number + i + " on " + name + " (" + column
                            + (second ? ", id" : "") + pick("", " desc") + ")");
                } catch (IllegalStateException typeWithoutIndex) {
                    made.remove(made.size() - 1);
                }
            }
        }

        private void comment(String name, List<String> names) {
            if (engine == Engine.POSTGRESQL || engine == Engine.H2) {
                run("comment on column " + name + "." + names.get(1) + " is 'what''s that'");
            }
            if (engine == Engine.POSTGRESQL && chance(40)) {
                run("grant select on " + name + " to public");
                run("grant update (" + names.get(1) + ") on " + name + " to public");
            }
            if (engine == Engine.POSTGRESQL && chance(20)) {
                run("alter table " + name + " enable row level security");
                run("create policy mine on " + name + " for select using (id > 0)");
            }
        }

        private void fill(String name, List<String> names) {
            for (int row = 1; row <= 4; row++) {
                List<String> set = new ArrayList<>(List.of("id"));
                List<String> values = new ArrayList<>(List.of(String.valueOf(row)));
                for (String column : names.subList(1, names.size())) {
                    String type = type(name, column);
                    if (column.equals("parent_id")) {
                        set.add(column);
                        values.add(String.valueOf(1 + random.nextInt(3)));
                    } else if (type != null && (chance(70) || type.equals("needed"))) {
                        set.add(column);
                        values.add(value(type, row));
                    }
                }
                try {
                    run("insert into " + name + " (" + String.join(", ", set) + ") values (" + String.join(", ", values)
                            + ")");
                } catch (IllegalStateException twice) {
                    made.remove(made.size() - 1);
                }
            }
            if (chance(50)) {
                run("delete from " + name + " where id = 4");
            }
        }

        private String type(String table, String column) {
            String definition = made.stream()
                    .filter(sql -> sql.startsWith("create table " + table + " ("))
                    .findFirst()
                    .orElseThrow();
            String own = Stream.of(
                            definition.substring(definition.indexOf('(') + 1).split(", (?=[a-z\"])"))
                    .filter(part -> part.startsWith(column + " "))
                    .findFirst()
                    .orElseThrow()
                    .substring(column.length() + 1);
            return own.contains("not null") ? "needed" : own.replaceFirst("[ (].*", "");
        }

        private String value(String type, int row) {
            return switch (type) {
                case "needed", "varchar", "text" -> "'" + pick("oak ", "pi\"ne", "a\\b", "ünder ") + row + "'";
                case "int", "integer", "double", "real", "numeric", "decimal" -> String.valueOf(row * 3);
                case "timestamp", "timestamptz", "datetime" -> "'2026-03-0" + row + " 12:00:00.5'";
                case "boolean" -> pick("true", "false");
                case "bytea" -> "'\\x00ff0" + row + "'";
                case "varbinary", "blob" -> "X'00FF0" + row + "'";
                case "uuid" -> "'0b7a3c1e-9d2f-4c57-8a10-6c3f5d2e9b4" + row + "'";
                case "jsonb" -> "'{\"a\": " + row + "}'";
                case "int[]" -> "'{1,null," + row + "}'";
                case "enum" -> pick("'a'", "'b'");
                default -> "null";
            };
        }

        private void views() {
            for (int i = 0; i < random.nextInt(3); i++) {
                int table = random.nextInt(tables.size());
                run("create " + (engine == Engine.POSTGRESQL && chance(30) ? "materialized view v" : "view v") + i
                        + " as select "
                        + pick("*", "id", "id, " + columns.get(table).get(1)) + " from " + tables.get(table)
                        + pick("", " where id > 0"));
                if (chance(50)) {
                    run("create view w" + i + " as select id from v" + i);
                }
            }
        }

        private void triggers() {
            if (!chance(40)) {
                return;
            }
            String table = tables.get(random.nextInt(tables.size()));
            String column = columns.get(tables.indexOf(table)).get(1);
            switch (engine) {
                case POSTGRESQL -> {
                    run("create function touched() returns trigger language plpgsql as 'begin return new; end'");
                    run("create trigger touching before update of " + column + " on " + table
                            + " for each row execute function touched()");
                }
                case MARIADB ->
                    run("create trigger touching before update on " + table + " for each row set @seen = new."
                            + column);
                case SQLITE ->
                    run("create trigger touching after update of " + column + " on " + table + " begin select new."
                            + column + "; end");
                case H2 ->
                    run(
                            "create trigger touching before update on " + table
                                    + " for each row as 'org.h2.api.Trigger create() { return (connection, before, after) -> {}; }'");
            }
        }

        /** Does something while no trigger sees it. */
        void withoutTrigger(Runnable work) {
            database.run("drop trigger touching");
            work.run();
            made.stream().filter(sql -> sql.startsWith("create trigger")).forEach(database::run);
        }

        List<String> contents() {
            List<String> contents = new ArrayList<>();
            for (String table : tables) {
                List<String> names = columns.get(tables.indexOf(table));
                contents.add(table
                        + database
                                .rows("select " + String.join(", ", names) + " from " + table + " order by id")
                                .stream()
                                .map(row -> row.replaceAll("\\[B@[0-9a-f]+", "bytes"))
                                .toList());
            }
            return contents;
        }

        Retirement something() {
            int table = random.nextInt(tables.size());
            String name = tables.get(table).replace("\"", "");
            if (chance(35)) {
                return Retirement.ofTable(name);
            }
            List<String> names = columns.get(table);
            boolean computed = made.stream()
                    .anyMatch(sql ->
                            sql.startsWith("create table " + tables.get(table) + " (") && sql.contains(" twice "));
            if (computed && chance(20)) {
                return Retirement.ofColumn(name, "twice");
            }
            return Retirement.ofColumn(
                    name, names.get(1 + random.nextInt(names.size() - 1)).replace("\"", ""));
        }

        @Override
        public String toString() {
            return String.join(";\n", made);
        }
    }
}
