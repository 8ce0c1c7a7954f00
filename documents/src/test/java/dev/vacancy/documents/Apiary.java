package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.put;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Clob;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Period;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.StringJoiner;
import java.util.function.UnaryOperator;
import org.bson.Document;

/**
 * The same few hives in each kind of database: three of them, readings that go with a hive, a photo that is detached, a loan that forbids, and a keeper, who is
 * marked. The key of a record is a number everywhere.
 */
abstract class Apiary {
    private static final List<String> TABLES = List.of("keeper", "hive", "reading", "photo", "loan");

    /** The kinds of databases. */
    enum Kind {
        H2,
        POSTGRESQL,
        MARIADB,
        SQLITE,
        DOCUMENTS,
        DOCUMENTS_IN_TRANSACTIONS;

        /** Makes a new one. */
        Apiary apiary() {
            return switch (this) {
                case H2, POSTGRESQL, MARIADB, SQLITE -> new Tables(Engine.valueOf(name()));
                case DOCUMENTS -> new Collections(DocumentServer.PLAIN);
                case DOCUMENTS_IN_TRANSACTIONS -> new Collections(Collections.TRANSACTING);
            };
        }
    }

    /** The rules of the application, and more. */
    Vacancy vacancy(UnaryOperator<RuleBook> more) {
        return vacancy(more, Clock.systemUTC());
    }

    abstract Vacancy vacancy(UnaryOperator<RuleBook> more, Clock clock);

    /** Has somebody else change a record, by the name of a column. */
    abstract void change(String table, int key, String column, String text);

    /** Has somebody else put a reading in. */
    abstract void addReading(int key, int hive, String note);

    abstract long count(String table);

    /** All that the application has, as text. */
    abstract List<String> content();

    /** All that anybody could read, as text. */
    abstract String everything();

    /** Has somebody say that another one did what the trail tells. */
    abstract void tamper();

    private static RuleBook rules(RuleBook book) {
        return book.on("reading.hive_id", Clause.cascade())
                .on("photo.hive_id", Clause.detach())
                .on("loan.hive_id", Clause.block("it is on loan"))
                .on("hive.keeper_id", Clause.block("somebody has to look after it"))
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(10)));
    }

    /** Rows of a relational database. */
    private static final class Tables extends Apiary {
        private final Database database;

        Tables(Engine engine) {
            database = engine.database()
                    .run(
                            "create table keeper (keeper_id integer primary key, label varchar(80), left_at timestamp null)",
                            "create table hive (hive_id integer primary key, label varchar(80), keeper_id integer,"
                                    + " foreign key (keeper_id) references keeper (keeper_id))",
                            "create table reading (reading_id integer primary key, hive_id integer not null, note varchar(80),"
                                    + " foreign key (hive_id) references hive (hive_id))",
                            "create table photo (photo_id integer primary key, hive_id integer, label varchar(80),"
                                    + " foreign key (hive_id) references hive (hive_id))",
                            "create table loan (loan_id integer primary key, hive_id integer,"
                                    + " foreign key (hive_id) references hive (hive_id))",
                            "insert into keeper (keeper_id, label) values (1, 'Odile'), (2, 'Ansel')",
                            "insert into hive values (1, 'Alder', 1), (2, 'Birch', 1), (3, 'Clover', null)",
                            "insert into reading values (11, 1, 'heavy'), (12, 1, 'light'), (13, 2, 'light'), (14, 3, 'heavy')",
                            "insert into photo values (21, 1, 'at dawn'), (22, 3, 'at noon')",
                            "insert into loan values (31, 2)");
        }

        @Override
        Vacancy vacancy(UnaryOperator<RuleBook> more, Clock clock) {
            RuleBook rules = more.apply(rules(RuleBook.bySchema()));
            Ddl.of(database.source(), rules).apply();
            Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
            return Vacancy.over(database.source(), rules, clock);
        }

        @Override
        void change(String table, int key, String column, String text) {
            database.run("update " + table + " set " + column + " = '" + text + "' where " + table + "_id = " + key);
        }

        @Override
        void addReading(int key, int hive, String note) {
            database.run("insert into reading values (" + key + ", " + hive + ", '" + note + "')");
        }

        @Override
        long count(String table) {
            return database.count(table);
        }

        @Override
        List<String> content() {
            return database.contents(TABLES.toArray(String[]::new));
        }

        @Override
        String everything() {
            return content() + " " + texts("vacancy_trail_run") + " " + texts("vacancy_trail_entry");
        }

        private List<String> texts(String table) {
            List<String> texts = new ArrayList<>();
            try (Connection connection = database.connect();
                    PreparedStatement query = connection.prepareStatement("select * from " + table);
                    ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    StringJoiner values = new StringJoiner("|");
                    for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                        values.add(text(row.getObject(i)));
                    }
                    texts.add(values.toString());
                }
            } catch (SQLException failure) {
                throw new IllegalStateException(failure);
            }
            texts.sort(null);
            return texts;
        }

        private static String text(Object value) throws SQLException {
            if (value instanceof byte[] bytes) {
                return HexFormat.of().formatHex(bytes);
            }
            return value instanceof Clob text ? text.getSubString(1, (int) text.length()) : String.valueOf(value);
        }

        @Override
        void tamper() {
            database.run("update vacancy_trail_run set actor = 'ansel' where place = 1");
        }
    }

    /** Documents of a server. */
    private static final class Collections extends Apiary {
        private static final DocumentServer TRANSACTING = DocumentServer.of(new TransactingBackend());

        private final DocumentServer server;
        private final MongoDatabase database;

        Collections(DocumentServer server) {
            this.server = server;
            this.database = server.database();
            put(database, "keeper", "{_id: 1, label: 'Odile'}", "{_id: 2, label: 'Ansel'}");
            put(
                    database,
                    "hive",
                    "{_id: 1, label: 'Alder', keeper_id: 1}",
                    "{_id: 2, label: 'Birch', keeper_id: 1}",
                    "{_id: 3, label: 'Clover'}");
            put(
                    database,
                    "reading",
                    "{_id: 11, hive_id: 1, note: 'heavy'}",
                    "{_id: 12, hive_id: 1, note: 'light'}",
                    "{_id: 13, hive_id: 2, note: 'light'}",
                    "{_id: 14, hive_id: 3, note: 'heavy'}");
            put(
                    database,
                    "photo",
                    "{_id: 21, hive_id: 1, label: 'at dawn'}",
                    "{_id: 22, hive_id: 3, label: 'at noon'}");
            put(database, "loan", "{_id: 31, hive_id: 2}");
        }

        @Override
        Vacancy vacancy(UnaryOperator<RuleBook> more, Clock clock) {
            RuleBook links = RuleBook.bySchema()
                    .link("reading.hive_id", "hive")
                    .link("photo.hive_id", "hive")
                    .link("loan.hive_id", "hive")
                    .link("hive.keeper_id", "keeper");
            return Documents.over(server.client(), database.getName(), more.apply(rules(links)), clock);
        }

        @Override
        void change(String table, int key, String column, String text) {
            database.getCollection(table)
                    .updateOne(new Document("_id", key), new Document("$set", new Document(column, text)));
        }

        @Override
        void addReading(int key, int hive, String note) {
            database.getCollection("reading")
                    .insertOne(new Document("_id", key).append("hive_id", hive).append("note", note));
        }

        @Override
        long count(String table) {
            return database.getCollection(table).countDocuments();
        }

        private List<String> documents(Iterable<String> collections) {
            List<String> documents = new ArrayList<>();
            collections.forEach(name -> {
                List<String> some = new ArrayList<>();
                database.getCollection(name).find().forEach(document -> some.add(document.toString()));
                documents.add(name + ": " + some.stream().sorted().toList());
            });
            return documents;
        }

        @Override
        List<String> content() {
            return documents(TABLES);
        }

        @Override
        String everything() {
            return documents(database.listCollectionNames()).toString();
        }

        @Override
        void tamper() {
            database.getCollection("vacancy_trail_run")
                    .updateOne(new Document("_id", 1L), new Document("$set", new Document("actor", "ansel")));
        }
    }
}
