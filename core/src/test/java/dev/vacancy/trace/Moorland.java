package dev.vacancy.trace;

import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.StringJoiner;

/** Keepers, and what people have written about them. Keeper 1 is Orla Fenwick, keeper 2 Tam Birk. */
final class Moorland {
    static final By ODILE = By.user("odile").because("request 17");

    static final TraceRule GOES = TraceRule.knownBy("name", "email")
            .masking("inspection.note", "photo.caption")
            .keeping("newsletter.body", "it was printed")
            .on("payment.keeper_id", Clause.cascade());

    static final TraceRule STAYS = TraceRule.knownBy("name", "email")
            .masking("inspection.note", "photo.caption")
            .on("payment.keeper_id", Clause.keep("the tax office asks for it for ten years"))
            .keepingRecord("payments refer to it", "name", "email", "phone");

    private Moorland() {}

    static Database on(Engine engine, RuleBook book) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id integer not null primary key, name varchar(40) not null,"
                                + " email varchar(60) not null unique, phone varchar(20), left_at timestamp null)",
                        "create table hive (hive_id integer not null primary key, keeper_id integer not null,"
                                + " name varchar(40) not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id) on delete cascade)",
                        "create table inspection (inspection_id integer not null primary key, hive_id integer,"
                                + " keeper_id integer, note varchar(120),"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                                + " foreign key (keeper_id) references keeper (keeper_id) on delete set null)",
                        "create table payment (payment_id integer not null primary key, keeper_id integer not null,"
                                + " pounds integer not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "create table photo (photo_id integer not null primary key, keeper_no integer,"
                                + " caption varchar(80))",
                        "create table newsletter (issue integer not null primary key, body varchar(200))",
                        "insert into keeper values (1, 'Orla Fenwick', 'orla@larkmoor.example', '01 234', null),"
                                + " (2, 'Tam Birk', 'tam@larkmoor.example', '01 999', null)",
                        "insert into hive values (10, 1, 'Fellside One'), (11, 1, 'Fellside Two'), (20, 2, 'Bramble')",
                        "insert into inspection values (100, 10, 1, 'Orla Fenwick saw the queen'),"
                                + " (101, 20, 1, 'calm; asked ORLA FENWICK to come again'),"
                                + " (102, 20, 2, 'wrote to orla@larkmoor.example about it'),"
                                + " (103, 20, 2, 'nothing')",
                        "insert into payment values (1000, 1, 20), (1001, 2, 30)",
                        "insert into photo values (500, 1, 'Orla Fenwick at the show'), (501, 2, 'Tam Birk')",
                        "insert into newsletter values (7, 'A prize for Orla Fenwick'), (8, 'Rain')");
        Ddl.of(database.source(), book).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return database;
    }

    static RuleBook book(TraceRule trace) {
        return RuleBook.bySchema()
                .trail(Trail.defaults())
                .link("photo.keeper_no", "keeper")
                .on("photo.keeper_no", Clause.detach())
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper")
                .label("keeper", "{name}")
                .on("payment.keeper_id", Clause.keep())
                .followUp("hive", FollowUp.named("map").columns("name"))
                .trace("keeper", trace);
    }

    static Vacancy vacancy(Database database, RuleBook book) {
        return Vacancy.over(database.source(), book);
    }

    /** All rows of the tables in which something of a keeper may stand, those of ours among them, but for what is kept. */
    static String everything(Database database) {
        return texts(
                database,
                "keeper",
                "hive",
                "inspection",
                "payment",
                "photo",
                "vacancy_trail_run",
                "vacancy_trail_entry",
                "vacancy_bulk_run",
                "vacancy_bulk_record");
    }

    static String texts(Database database, String... tables) {
        List<String> rows = new ArrayList<>();
        for (String table : tables) {
            rows.addAll(rows(database, table));
        }
        return rows.toString();
    }

    /** Large texts whole, which drivers shorten otherwise. */
    private static List<String> rows(Database database, String table) {
        List<String> rows = new ArrayList<>();
        try (Connection connection = database.connect();
                PreparedStatement query = connection.prepareStatement("select * from " + table);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                StringJoiner values = new StringJoiner("|", table + " ", "");
                for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                    values.add(row.getString(i));
                }
                rows.add(values.toString());
            }
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
        return rows;
    }
}
