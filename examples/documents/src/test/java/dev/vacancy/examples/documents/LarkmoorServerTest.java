package dev.vacancy.examples.documents;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.demo.DemoDocuments;
import dev.vacancy.demo.Larkmoor;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.List;
import java.util.ServiceLoader;
import org.bson.Document;
import org.junit.jupiter.api.Test;

/** The demo's data as documents. */
class LarkmoorServerTest {
    private final DemoDocuments.Provider provider =
            ServiceLoader.load(DemoDocuments.Provider.class).findFirst().orElseThrow();

    @Test
    void theRecordsBecomeDocuments() throws Exception {
        try (Connection tables = DriverManager.getConnection("jdbc:h2:mem:");
                DemoDocuments server = provider.start(0);
                MongoClient client = MongoClients.create(server.address("larkmoor"))) {
            Larkmoor.create(tables, 1);
            server.fill(tables, "larkmoor");
            MongoDatabase larkmoor = client.getDatabase("larkmoor");

            assertThat(larkmoor.listCollectionNames())
                    .contains("keeper", "apiary", "hive", "reading", "batch", "photo");
            assertThat(larkmoor.getCollection("reading").countDocuments()).isEqualTo(20_000);
            List<Document> hives = larkmoor.getCollection("hive").find().into(new java.util.ArrayList<>());
            assertThat(hives).hasSize(40);
            assertThat(hives.stream()
                            .mapToInt(hive ->
                                    hive.getList("inspections", Document.class).size())
                            .sum())
                    .isEqualTo(400);
            assertThat(larkmoor.getCollection("photo").countDocuments(new Document("hives", 12)))
                    .isPositive();
            assertThat(larkmoor.getCollection("keeper")
                            .find(new Document("leftAt", new Document("$exists", true)))
                            .first())
                    .isNotNull();
        }
    }

    @Test
    void aPortThatIsTakenIsTold() throws Exception {
        try (DemoDocuments server = provider.start(0)) {
            int port = Integer.parseInt(server.address("x").replaceAll(".*:(\\d+)/x", "$1"));

            assertThatThrownBy(() -> provider.start(port)).isInstanceOf(IOException.class);
        }
    }
}
