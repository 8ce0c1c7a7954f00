package dev.vacancy.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButMariaDb;
import dev.vacancy.testing.OnEveryEngineButSqlite;
import dev.vacancy.testing.Schemas;
import java.util.List;
import java.util.Locale;
import java.util.StringJoiner;

/** What the catalog says of a database. */
class CatalogTest {
    @OnEveryEngine
    void theDemoHasItsThirteenTablesWithTheirKeys(Engine engine) {
        Catalog catalog = catalog(Schemas.larkmoor(engine));

        assertThat(catalog.tables()).hasSize(13);
        assertThat(catalog.links()).hasSize(15);
        assertThat(catalog.table("frame_check").primaryKey())
                .extracting(Column::name)
                .containsExactly("inspection_id", "frame_no");
        assertThat(catalog.table("honey_batch").uniqueKeys())
                .containsExactly(List.of(catalog.table("honey_batch").column("code")));
        assertThat(DatabaseCatalog.of(catalog).label(catalog.table("keeper")).template())
                .isEqualTo("{name}");
        assertThat(DatabaseCatalog.of(catalog).label(catalog.table("reading")).columns())
                .isEmpty();
    }

    @OnEveryEngine
    void columnsTellTypeAndNullability(Engine engine) {
        Table inspection = catalog(Schemas.larkmoor(engine)).table("INSPECTION");

        assertThat(inspection.columns())
                .extracting(Column::name)
                .containsExactly("inspection_id", "hive_id", "keeper_id", "inspected_on", "note");
        assertThat(inspection.column("keeper_id").nullable()).isTrue();
        assertThat(inspection.column("hive_id").nullable()).isFalse();
        assertThat(ColumnType.of(inspection.column("hive_id")).name()).isIn("INTEGER", "INT", "int4");
    }

    @OnEveryEngineButMariaDb
    void linksTellTheirColumnsActionAndIndex(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table stand (a int, b int, primary key (a, b))",
                        "create table hive (hive_id int primary key, b int, a int, spare int, loan int not null, c int default 1,"
                                + " foreign key (a, b) references stand (a, b) on delete cascade)",
                        "create table queen (queen_id int primary key, x int references hive (hive_id) on delete restrict,"
                                + " y int references hive (hive_id) on delete set null, z int not null references hive (hive_id) on delete set null,"
                                + " w int default 1 references hive (hive_id) on delete set default)",
                        "create index hive_by_stand on hive (b, a, spare)",
                        "create index queen_by_y on queen (queen_id, y)");
        Catalog catalog = catalog(database);

        Link stand = catalog.linksTo(catalog.table("stand")).get(0);
        assertThat(stand.childColumns()).extracting(Column::name).containsExactly("a", "b");
        assertThat(stand.parentColumns()).extracting(Column::name).containsExactly("a", "b");
        assertThat(stand.indexed()).isTrue();
        assertThat(stand.where()).isEqualTo("hive.(a, b)");
        assertThat(catalog.link(stand.where())).isEqualTo(stand);
        assertThat(catalog.link(" HIVE.(a,b) ")).isEqualTo(stand);
        assertThat(CatalogLink.of(stand).onDelete()).isEqualTo(OnDelete.CASCADE);

        Rules rules = dev.vacancy.internal.engine.Engine.of(Vacancy.over(database.source()))
                .rules();
        assertThat(rules.of(catalog.link("queen.x")).get(0).rule()).isEqualTo(Rule.BLOCK);
        assertThat(rules.of(catalog.link("queen.y")).get(0).rule()).isEqualTo(Rule.DETACH);
        assertThat(rules.of(catalog.link("queen.z")).get(0).rule()).isEqualTo(Rule.BLOCK);
        assertThat(rules.of(catalog.link("queen.z")).get(0).reason()).contains("may not be null");
        assertThat(rules.of(catalog.link("queen.w")).get(0).rule()).isEqualTo(Rule.RESET);
        // H2 makes an index for each foreign key by itself.
        assertThat(catalog.link("queen.z").indexed()).isEqualTo(engine == Engine.H2);
    }

    @OnEveryEngine
    void anIndexOverAnExpressionIsNoKey(Engine engine) {
        Database database =
                engine.database().run("create table keeper (keeper_id int primary key, email varchar(80) not null)");
        if (engine == Engine.POSTGRESQL) {
            database.run(
                    "create unique index on keeper (lower(email))",
                    "create unique index on keeper (email) where keeper_id > 0");
        }

        assertThat(catalog(database).table("keeper").uniqueKeys()).isEmpty();
    }

    @OnEveryEngineButSqlite
    void namesThatDifferByCaseAloneAreFoundExactly(Engine engine) {
        Catalog catalog = catalog(engine.database()
                .run(
                        "create table \"Hive\" (\"Id\" int primary key)",
                        "create table \"HIVE\" (\"Id\" int primary key)",
                        "create table \"hive\" (\"Id\" int primary key)"));

        assertThat(catalog.table("Hive").storedName()).isEqualTo("Hive");
        assertThat(catalog.table("HIVE").storedName()).isEqualTo("HIVE");
        assertThat(catalog.tables()).extracting(Table::name).doesNotHaveDuplicates();
        assertThatThrownBy(() -> catalog.table("hIVE")).isInstanceOf(InvalidRequestException.class);
    }

    @OnEveryEngineButSqlite
    void tablesOfOtherSchemasCarryTheirSchema(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        String sales = database.schema("sales");
        database.run("create table " + sales + ".hive (id int primary key)");
        RuleBook further = RuleBook.bySchema().schemas(sales, sales.toUpperCase(Locale.ROOT));
        Catalog catalog = Vacancy.over(database.source(), further).catalog();

        assertThat(catalog(database).tables()).extracting(Table::name).doesNotContain(sales + ".hive");
        assertThat(catalog.tables()).extracting(Table::name).contains("hive", sales + ".hive");
        assertThat(catalog.table(sales + ".hive").column("id").nullable()).isFalse();
        assertThat(catalog.table("hive").column("hive_id").name()).isEqualTo("hive_id");
    }

    private static Catalog catalog(Database database) {
        return Vacancy.over(database.source()).catalog();
    }

    @OnEveryEngine
    void aSchemaOfHundredsOfTablesIsRead(Engine engine) {
        Database database = engine.database();
        StringJoiner columns = new StringJoiner(", ");
        for (int column = 0; column < 40; column++) {
            columns.add("made_" + column + " int");
        }
        for (int table = 0; table < 300; table++) {
            database.run("create table frame_" + table + " (frame_id int primary key, " + columns + ")");
        }

        Catalog catalog = Vacancy.over(database.source()).catalog();

        assertThat(catalog.tables()).hasSize(300);
        assertThat(catalog.tables())
                .allSatisfy(table -> assertThat(table.columns()).hasSize(41));
    }
}
