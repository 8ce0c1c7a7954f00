package dev.vacancy.examples.documents;

import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Indexes;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Date;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.bson.Document;
import org.bson.types.Decimal128;

/** Makes documents of Larkmoor's records. What is only looked at with a hive stands in it; what there is too much of, or what shows several, stands apart. */
final class HiveDocuments {
    private static final int PORTION = 1_000;
    private static final String ID = "_id";

    private final Connection tables;
    private final MongoDatabase larkmoor;

    /**
     * Prepares to write.
     *
     * @param tables a connection to a database with the demo's tables
     * @param larkmoor the database that gets the documents
     */
    HiveDocuments(Connection tables, MongoDatabase larkmoor) {
        this.tables = tables;
        this.larkmoor = larkmoor;
    }

    void write() throws SQLException {
        keepers();
        apiaries();
        hives();
        readings();
        batches();
        photos();
        index("hive", "apiary", "inspections.keeper");
        index("reading", "hive");
        index("batch", "hives");
        index("photo", "hives", "apiary");
        index("apiary", "keepers");
    }

    private void index(String collection, String... fields) {
        for (String field : fields) {
            larkmoor.getCollection(collection).createIndex(Indexes.ascending(field));
        }
    }

    private void keepers() throws SQLException {
        insert(
                "keeper",
                rows("select keeper_id as \"_id\", name as \"name\", email as \"email\","
                        + " joined_on as \"joinedOn\", left_at as \"leftAt\" from keeper order by keeper_id"));
    }

    private void apiaries() throws SQLException {
        Map<Object, List<Object>> keepers =
                values("select apiary_id, keeper_id from apiary_keeper order by apiary_id, keeper_id");
        List<Document> apiaries = rows("select apiary_id as \"_id\", name as \"name\", village as \"village\","
                + " closed_at as \"closedAt\" from apiary order by apiary_id");
        apiaries.forEach(apiary -> apiary.append("keepers", keepers.getOrDefault(apiary.get(ID), List.of())));
        insert("apiary", apiaries);
    }

    private void hives() throws SQLException {
        Map<Object, List<Document>> queens =
                byHive("select q.hive_id as \"hive\", q.name as \"name\", q.mark as \"mark\","
                        + " q.hatched_on as \"hatchedOn\" from queen q join hive h on h.queen_id = q.queen_id"
                        + " where q.hive_id is not null order by q.queen_id");
        Map<Object, List<Document>> inspections = byHive("select hive_id as \"hive\", inspected_on as \"on\","
                + " keeper_id as \"keeper\", note as \"note\" from inspection order by inspected_on, inspection_id");
        Map<Object, List<Document>> treatments = byHive("select hive_id as \"hive\", remedy as \"remedy\","
                + " applied_on as \"on\", withhold_until as \"withholdUntil\" from treatment order by treatment_id");
        List<Document> hives =
                rows("select hive_id as \"_id\", name as \"name\", apiary_id as \"apiary\", wood as \"wood\","
                        + " set_up_on as \"setUpOn\" from hive order by hive_id");
        for (Document hive : hives) {
            queens.getOrDefault(hive.get(ID), List.of()).stream()
                    .findFirst()
                    .ifPresent(queen -> hive.append("queen", queen));
            hive.append("inspections", inspections.getOrDefault(hive.get(ID), List.of()));
            hive.append("treatments", treatments.getOrDefault(hive.get(ID), List.of()));
        }
        insert("hive", hives);
    }

    private void readings() throws SQLException {
        insert(
                "reading",
                rows(
                        "select reading_id as \"_id\", hive_id as \"hive\", taken_at as \"takenAt\","
                                + " weight_kg as \"weightKg\", brood_celsius as \"broodCelsius\" from reading order by reading_id"));
    }

    private void batches() throws SQLException {
        Map<Object, List<Object>> hives = values("select b.code, h.hive_id from batch_hive h join honey_batch b"
                + " on b.batch_id = h.batch_id order by b.code, h.hive_id");
        List<Document> batches = rows("select code as \"_id\", jarred_on as \"jarredOn\", kilos as \"kilos\","
                + " sold_on as \"soldOn\" from honey_batch order by code");
        batches.forEach(batch -> batch.append("hives", hives.getOrDefault(batch.get(ID), List.of())));
        insert("batch", batches);
    }

    /** Each third photo of a hive shows the next hive as well. */
    private void photos() throws SQLException {
        List<Document> photos = rows("select photo_id as \"_id\", caption as \"caption\", taken_on as \"takenOn\","
                + " hive_no as \"hive\", apiary_no as \"apiary\" from photo order by photo_id");
        for (Document photo : photos) {
            Integer hive = (Integer) photo.remove("hive");
            if (hive != null) {
                photo.append("hives", photo.getInteger(ID) % 3 == 0 ? List.of(hive, hive + 1) : List.of(hive));
            }
        }
        insert("photo", photos);
    }

    private void insert(String name, List<Document> documents) {
        MongoCollection<Document> collection = larkmoor.getCollection(name);
        for (int from = 0; from < documents.size(); from += PORTION) {
            collection.insertMany(documents.subList(from, Math.min(documents.size(), from + PORTION)));
        }
    }

    /** Rows by their hive, which they are embedded in and needn't name. */
    private Map<Object, List<Document>> byHive(String query) throws SQLException {
        Map<Object, List<Document>> byHive = new LinkedHashMap<>();
        for (Document row : rows(query)) {
            byHive.computeIfAbsent(row.remove("hive"), missing -> new ArrayList<>())
                    .add(row);
        }
        return byHive;
    }

    /** The values of a second column by those of a first one. */
    private Map<Object, List<Object>> values(String query) throws SQLException {
        Map<Object, List<Object>> values = new LinkedHashMap<>();
        for (Document row : rows(query)) {
            List<Object> pair = List.copyOf(row.values());
            values.computeIfAbsent(pair.get(0), missing -> new ArrayList<>()).add(pair.get(1));
        }
        return values;
    }

    /** Rows as documents; a column without a value is a field that is missing. */
    private List<Document> rows(String query) throws SQLException {
        List<Document> documents = new ArrayList<>();
        try (Statement statement = tables.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            int columns = row.getMetaData().getColumnCount();
            while (row.next()) {
                Document document = new Document();
                for (int column = 1; column <= columns; column++) {
                    Object value = value(row, column);
                    if (value != null) {
                        document.append(row.getMetaData().getColumnLabel(column), value);
                    }
                }
                documents.add(document);
            }
        }
        return documents;
    }

    private static Object value(ResultSet row, int column) throws SQLException {
        Object value = row.getObject(column);
        return switch (row.getMetaData().getColumnType(column)) {
            case Types.DATE ->
                value == null
                        ? null
                        : Date.from(row.getObject(column, LocalDate.class)
                                .atStartOfDay(ZoneOffset.UTC)
                                .toInstant());
            case Types.TIMESTAMP ->
                value == null
                        ? null
                        : Date.from(row.getObject(column, LocalDateTime.class).toInstant(ZoneOffset.UTC));
            case Types.DECIMAL, Types.NUMERIC -> value == null ? null : new Decimal128(row.getBigDecimal(column));
            default -> value;
        };
    }
}
