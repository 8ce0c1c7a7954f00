package dev.vacancy.neighbour;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

/** Whatever a column holds comes back as the very same, from a trail that holds nothing but JSON. */
class RestoredTypesTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook WITH_TRAIL = RuleBook.bySchema().trail(Trail.defaults());

    @TestFactory
    List<DynamicTest> everyTypeComesBackAsItWas() {
        List<DynamicTest> tests = new ArrayList<>();
        for (Engine engine : Engine.values()) {
            Map<String, List<String>> types = new LinkedHashMap<>(KeyTypes.of(engine));
            types.putAll(further(engine));
            Database database = engine.database();
            database.run(KeyTypes.definitions(engine).toArray(String[]::new));
            int number = 0;
            for (Map.Entry<String, List<String>> type : types.entrySet()) {
                String table = "thing" + ++number;
                tests.add(DynamicTest.dynamicTest(
                        engine + " " + type.getKey(),
                        () -> comesBack(database, engine, table, type.getKey(), type.getValue())));
            }
        }
        return tests;
    }

    private static Map<String, List<String>> further(Engine engine) {
        return switch (engine) {
            case H2 ->
                Map.of(
                        "blob", List.of("x'0001ff'", "x''"),
                        "clob", List.of("'a'", "''", "'ä\u0000b'"),
                        "json", List.of("json '{\"a\": [1, 2.50]}'", "json 'null'"),
                        "geometry", List.of("'POINT (1 2)'"),
                        "varchar array", List.of("array['a', null, 'b\"']"),
                        "boolean array", List.of("array[true, false]"),
                        "date array", List.of("array[date '2026-03-29']"),
                        "varbinary array", List.of("array[x'00ff']"));
            case POSTGRESQL ->
                Map.of(
                        "json", List.of("'{\"a\":  1, \"a\": 2.50}'", "'null'"),
                        "xml", List.of("'<a>ä</a>'"),
                        "point", List.of("'(0.1,0.30000000000000004)'"),
                        "bytea[]", List.of("array['\\x00ff'::bytea]"),
                        "int4range", List.of("'[1,5)'"),
                        "tsvector", List.of("'a b'"),
                        "money", List.of("12345.67", "-0.05"),
                        "uuid[]", List.of("array['018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'::uuid]"));
            case MARIADB ->
                Map.of(
                        "json", List.of("'{\"a\":  1}'"),
                        "longblob", List.of("x'0001ff5c27'", "x''"),
                        "longtext", List.of("'ä\\0\\\\'", "'null'", "''"),
                        "set('a', 'b')", List.of("'a,b'", "''"),
                        "point", List.of("st_geomfromtext('POINT(1.5 2)')"),
                        "bit(64)", List.of("b'1111111111111111111111111111111111111111111111111111111111111111'"),
                        "time", List.of("'-838:59:59'"));
            case SQLITE ->
                Map.of(
                        "blob", List.of("x'0001ff'", "'text'", "1", "1.5", "9e999"),
                        "real", List.of("0.1", "0.30000000000000004", "1e300", "-0.0"),
                        "text", List.of("cast(x'41ff42' as text)", "'\ufffd'"),
                        "any", List.of("'1'", "1", "1.0"));
        };
    }

    private static void comesBack(Database database, Engine engine, String table, String type, List<String> values) {
        if (values.isEmpty()) {
            return;
        }
        database.run("create table " + table + " (id integer primary key, held " + type + ")");
        for (int i = 0; i < values.size(); i++) {
            database.run("insert into " + table + " values (" + (i + 1) + ", " + values.get(i) + ")");
        }
        database.run("insert into " + table + " values (99, null)");
        Ddl.of(database.source(), WITH_TRAIL).apply();
        String exactly = "select id, " + exactly(engine, type) + " from " + table + " order by id";
        List<String> before = database.rows(exactly);
        Vacancy vacancy = Vacancy.over(database.source(), WITH_TRAIL);

        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of(table).allRecords(), ODILE)));
        long left = database.count(table);
        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);
        vacancy.history().restore(Approval.of(plan));

        assertThat(left).isZero();
        assertThat(plan.counts()).containsExactly(Map.entry(table, values.size() + 1L));
        assertThat(database.rows(exactly)).isEqualTo(before);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** What tells a value from all others. */
    private static String exactly(Engine engine, String type) {
        return switch (engine) {
            case POSTGRESQL -> "cast(held as text)";
            case SQLITE -> "typeof(held) || quote(held) || hex(held)";
            case H2 ->
                (type.contains("bin") && !type.contains("array")) || type.equals("blob")
                        ? "rawtohex(held)"
                        : type.equals("real") || type.equals("double precision") ? "held" : "cast(held as varchar)";
            case MARIADB ->
                type.equals("float")
                        ? "cast(held as double)"
                        : type.startsWith("timestamp")
                                ? "unix_timestamp(held)"
                                : type.startsWith("bit") ? "held + 0" : "hex(concat(held, ''))";
        };
    }
}
