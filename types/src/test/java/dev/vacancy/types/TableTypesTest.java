package dev.vacancy.types;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButSqlite;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TableTypesTest {
    private static final By ODILE = By.user("odile");

    private static final String USE = """
            package larkmoor;

            import static larkmoor.tables.ApiaryKeeperTable.APIARY_KEEPER;
            import static larkmoor.tables.ApiaryTable.APIARY;
            import static larkmoor.tables.BatchHiveTable.BATCH_HIVE;
            import static larkmoor.tables.HiveTable.HIVE;
            import static larkmoor.tables.PhotoTable.PHOTO;

            import dev.vacancy.Moment;
            import dev.vacancy.Selection;
            import dev.vacancy.rule.Clause;
            import dev.vacancy.rule.RuleBook;
            import java.util.List;

            public final class Use {
                public static RuleBook rules() {
                    return RuleBook.bySchema()
                            .on(BATCH_HIVE.HIVE_ID, Clause.cascade())
                            .link(PHOTO.HIVE_NO, HIVE.HIVE_ID)
                            .on(PHOTO.HIVE_NO, Clause.cascade());
                }

                public static List<Selection> selections() {
                    return List.of(
                            HIVE.key(12),
                            HIVE.where(HIVE.NAME.like("Fell%")),
                            HIVE.where(APIARY.VILLAGE.equalTo("Larkmoor").and(HIVE.SET_UP_ON.atMost(Moment.today()))),
                            APIARY_KEEPER.key(1, 1),
                            APIARY_KEEPER.keys(List.of(List.of(1, 1))),
                            APIARY.allRecords());
                }
            }
            """;

    @TempDir
    private Path folder;

    @OnEveryEngine
    void selectionsAndRulesAreCheckedByTheCompiler(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Compiled compiled = new Compiled(folder);
        TableTypes.of(Vacancy.over(database.source()).catalog(), "larkmoor.tables")
                .write(compiled.sources());

        assertThat(compiled.with("Use", USE).complaints()).isEmpty();

        Vacancy vacancy = Vacancy.over(database.source(), (RuleBook) compiled.result("larkmoor.Use", "rules"));
        List<Long> selected = new ArrayList<>();
        for (Object selection : (List<?>) compiled.result("larkmoor.Use", "selections")) {
            selected.add(vacancy.plan((Selection) selection, ODILE).selected());
        }
        assertThat(selected)
                .containsExactly(
                        1L,
                        count(database, "hive where name like 'Fell%'"),
                        count(
                                database,
                                "hive h join apiary a on h.apiary_id = a.apiary_id where a.village = 'Larkmoor'"),
                        count(database, "apiary_keeper where apiary_id = 1 and keeper_id = 1"),
                        count(database, "apiary_keeper where apiary_id = 1 and keeper_id = 1"),
                        database.count("apiary"));
        assertThat(selected.get(1)).isPositive();
    }

    @Test
    void whatIsNotThereOrOfAnotherTypeDoesNotCompile() throws Exception {
        Compiled compiled = new Compiled(folder);
        TableTypes.of(Vacancy.over(larkmoor(Engine.H2).source()).catalog(), "larkmoor.tables")
                .write(compiled.sources());

        List<String> complaints = compiled.with("Wrong", """
                        import static larkmoor.tables.HiveTable.HIVE;

                        final class Wrong {
                            Object number = HIVE.NAME.equalTo(12);
                            Object missing = HIVE.COLOUR;
                            Object key = HIVE.key("twelve");
                            Object link = dev.vacancy.rule.RuleBook.bySchema().link(HIVE.NAME, HIVE.HIVE_ID);
                        }
                        """).complaints();

        assertThat(complaints).hasSize(4);
        assertThat(complaints.get(0)).contains("equalTo");
        assertThat(complaints.get(1)).contains("COLOUR");
        assertThat(complaints.get(2)).contains("String cannot be converted to int");
        assertThat(complaints.get(3)).contains("link");
    }

    /** Each column is compared with the one value of its type that stands in it. */
    @OnEveryEngine
    void aColumnTakesTheTypeOfItsValues(Engine engine) throws Exception {
        String timestamp = engine == Engine.MARIADB ? "datetime" : "timestamp";
        Map<String, Object> values = Map.of(
                "smallint",
                3,
                "integer",
                4,
                "bigint",
                5L,
                "decimal(9, 2)",
                new BigDecimal("6.25"),
                "double precision",
                0.5,
                "varchar(20)",
                "Fell",
                "boolean",
                true,
                "date",
                LocalDate.of(2026, 5, 1),
                timestamp,
                LocalDateTime.of(2026, 5, 1, 8, 30));
        List<String> kinds = List.copyOf(values.keySet());
        List<String> columns = new ArrayList<>();
        List<String> given = new ArrayList<>();
        kinds.forEach(kind -> {
            columns.add("c" + kinds.indexOf(kind) + " " + kind);
            Object value = values.get(kind);
            given.add(
                    value instanceof Number || value instanceof Boolean
                            ? value.toString()
                            : "'" + value.toString().replace('T', ' ') + (kind.equals(timestamp) ? ":00'" : "'"));
        });
        Database database = engine.database()
                .run(
                        "create table kinds (id integer primary key, " + String.join(", ", columns) + ")",
                        "insert into kinds values (1, " + String.join(", ", given) + ")",
                        "insert into kinds (id) values (2)");
        Vacancy vacancy = Vacancy.over(database.source());
        Compiled compiled = new Compiled(folder);
        TableTypes.of(vacancy.catalog(), "tables").write(compiled.sources());
        assertThat(compiled.complaints()).isEmpty();

        Class<?> table = compiled.type("tables.KindsTable");
        Object kindsTable = table.getField("KINDS").get(null);
        for (String kind : kinds) {
            Field field = table.getField("C" + kinds.indexOf(kind));
            Type type = ((ParameterizedType) field.getGenericType()).getActualTypeArguments()[0];
            Object value = values.get(kind);
            Object typed = type == Long.class ? (Object) ((Number) value).longValue() : value;
            assertThat(typed).as(kind).isInstanceOf((Class<?>) type);
            @SuppressWarnings("unchecked") // checked by the line before
            ColumnCriteria<Object> column = (ColumnCriteria<Object>) field.get(kindsTable);
            assertThat(vacancy.plan(Selection.of("kinds").where(column.equalTo(typed)), ODILE)
                            .selected())
                    .as(kind)
                    .isEqualTo(1);
        }
    }

    @OnEveryEngine
    void namesOfAnyKindBecomeNamesOfJava(Engine engine) throws Exception {
        String quote = engine == Engine.MARIADB ? "`" : "\"";
        Database database = engine.database()
                .run(
                        "create table 'class' ('class' integer primary key, 'Mixed Case' varchar(9), '2nd' integer, 'a*/b' integer)"
                                .replace("'", quote),
                        "create table row_of_hives (apiary_id integer not null, row_no integer not null, row_of_hives integer,"
                                + " primary key (apiary_id, row_no))",
                        "create table stand (stand_id integer primary key, apiary_id integer, row_no integer, foreign key"
                                + " (apiary_id, row_no) references row_of_hives (apiary_id, row_no))",
                        "create table note (words varchar(9))",
                        "insert into 'class' values (1, 'x', 2, 3)".replace("'class'", quote + "class" + quote));
        Compiled compiled = new Compiled(folder);
        TableTypes types = TableTypes.of(Vacancy.over(database.source()).catalog(), "tables");
        types.write(compiled.sources());

        assertThat(compiled.with("Use", """
                                import static tables.ClassTable.CLASS;
                                                                import static tables.RowOfHivesTable.ROW_OF_HIVES;
                                import static tables.StandTable.STAND;

                                import dev.vacancy.Selection;
                                import dev.vacancy.rule.*;

                                public final class Use {
                                    public static RuleBook rules() {
                                        return RuleBook.bySchema().on(STAND.APIARY_ID_ROW_NO_LINK, Clause.cascade());
                                    }

                                    public static Selection selection() {
                                        return CLASS.where(CLASS.CLASS2.equalTo(1).and(CLASS._2ND.equalTo(2)
                                                .and(CLASS.MIXED_CASE.equalTo("x"))).and(CLASS.A_B.equalTo(3)));
                                    }

                                    public static Selection two() {
                                        return ROW_OF_HIVES.key(1, 2);
                                    }

                                    public static Selection beside() {
                                        return STAND.where(CLASS.MIXED_CASE.isNull());
                                    }
                                }
                                """.replace(engine == Engine.SQLITE ? "(1)" : "(-)", "(1L)")
                                .replace(engine == Engine.SQLITE ? "(2)" : "(-)", "(2L)")
                                .replace(engine == Engine.SQLITE ? "(3)" : "(-)", "(3L)"))
                        .complaints())
                .isEmpty();
        Vacancy vacancy = Vacancy.over(database.source(), (RuleBook) compiled.result("Use", "rules"));
        assertThat(vacancy.plan((Selection) compiled.result("Use", "selection"), ODILE)
                        .selected())
                .isEqualTo(1);
        assertThat(compiled.result("Use", "two"))
                .hasToString(Selection.of("row_of_hives").key(1, 2).toString());
        assertThatThrownBy(() -> vacancy.plan((Selection) compiled.result("Use", "beside"), ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("No link leads from stand to a parent 'class'");
        assertThat(compiled.type("tables.NoteTable").getMethods())
                .filteredOn(method ->
                        method.getDeclaringClass() != Object.class && !Modifier.isStatic(method.getModifiers()))
                .extracting("name")
                .containsExactlyInAnyOrder("name", "where", "allRecords");
    }

    @OnEveryEngineButSqlite
    void tablesOfAnotherSchemaAreAmongThem(Engine engine) throws Exception {
        Database database = engine.database().run("create table hive (hive_id integer primary key, name varchar(20))");
        String annex = database.schema("annex");
        database.run(
                "create table " + annex + ".hive (hive_id integer primary key, name varchar(20))",
                "insert into " + annex + ".hive values (1, 'Fell'), (2, 'Moor')");
        Vacancy vacancy =
                Vacancy.over(database.source(), RuleBook.bySchema().schemas(annex, annex.toUpperCase(Locale.ROOT)));
        Compiled compiled = new Compiled(folder);
        TableTypes types = TableTypes.of(vacancy.catalog(), "tables");
        types.write(compiled.sources());

        assertThat(compiled.complaints()).isEmpty();
        assertThat(types.sources()).hasSize(2).containsKey("HiveTable");
        String other = types.sources().keySet().stream()
                .filter(name -> !name.equals("HiveTable"))
                .findFirst()
                .orElseThrow();
        Class<?> table = compiled.type("tables." + other);
        Object hives = Arrays.stream(table.getFields())
                .filter(field -> Modifier.isStatic(field.getModifiers()))
                .findFirst()
                .orElseThrow()
                .get(null);
        @SuppressWarnings("unchecked") // the column is a text
        ColumnCriteria<String> name =
                (ColumnCriteria<String>) table.getField("NAME").get(hives);
        Selection fell = (Selection) table.getMethod("where", Criteria.class).invoke(hives, name.equalTo("Fell"));
        assertThat(vacancy.plan(fell, ODILE).selected()).isEqualTo(1);
    }

    @Test
    void madeAnewOnlyWhatDiffersIsWritten() throws Exception {
        Database database = Engine.H2
                .database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table frame (frame_id integer primary key)");
        Path home = folder.resolve("tables");
        Path own = home.resolve("OwnTable.java");

        List<Path> first = types(database).write(folder);
        Files.writeString(own, "package tables; class OwnTable {}");
        List<Path> second = types(database).write(folder);
        database.run("drop table frame", "alter table hive add name varchar(40)");
        List<Path> third = types(database).write(folder);

        assertThat(first).containsExactly(home.resolve("FrameTable.java"), home.resolve("HiveTable.java"));
        assertThat(second).isEmpty();
        assertThat(third).containsExactly(home.resolve("FrameTable.java"), home.resolve("HiveTable.java"));
        assertThat(home.resolve("FrameTable.java")).doesNotExist();
        assertThat(home.resolve("HiveTable.java")).content().contains("NAME");
        assertThat(own).exists();
    }

    @Test
    void whatSomebodyElseWroteIsNotReplaced() throws Exception {
        Database database = Engine.H2.database().run("create table hive (hive_id integer primary key)");
        Path own = Files.createDirectories(folder.resolve("tables")).resolve("HiveTable.java");
        Files.writeString(own, "package tables; class HiveTable {}");

        assertThatThrownBy(() -> types(database).write(folder))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("wasn't made from a catalog");
        assertThat(own).hasContent("package tables; class HiveTable {}");
    }

    @Test
    void aPackageThatCannotBeOneAndADatabaseWithoutTablesAreRefused() {
        Database empty = Engine.H2.database();

        assertThatThrownBy(() ->
                        TableTypes.of(Vacancy.over(larkmoor(Engine.H2).source()).catalog(), "my.class"))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'my.class' can't be the name of a package");
        assertThatThrownBy(() -> types(empty)).isInstanceOf(InvalidRequestException.class);
    }

    private static long count(Database database, String from) {
        return Long.parseLong(database.rows("select count(*) from " + from).get(0));
    }

    private static TableTypes types(Database database) {
        return TableTypes.of(Vacancy.over(database.source()).catalog(), "tables");
    }

    private static Database larkmoor(Engine engine) throws java.sql.SQLException {
        Database database = engine.database();
        try (Connection connection = database.connect()) {
            Larkmoor.create(connection, 1);
        }
        return database;
    }
}
