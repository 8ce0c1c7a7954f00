package dev.vacancy.examples;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.demo.Larkmoor;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import org.junit.jupiter.api.Test;

/** The examples run, and say what their readers are told they say. */
class ExamplesTest {
    private interface Program {
        void run(String[] arguments) throws Exception;
    }

    @Test
    void theFirstDeletionShowsThePlanAndWhatBecameOfIt() throws Exception {
        assertThat(output(FirstDeletion::main))
                .startsWith("hive 12 'Bramble Three'\n├─ inspection")
                .contains("Deleted {hive=1, inspection=13, frame_check=97, reading=500, treatment=2}")
                .contains("It was {hive_id=12, name=Bramble Three, apiary_id=2,");
    }

    @Test
    void theFirstDeletionIsShortEnoughToCopy() throws Exception {
        Path source = Path.of("src/main/java/dev/vacancy/examples/FirstDeletion.java");

        assertThat(Files.readAllLines(source)).hasSizeLessThan(40);
    }

    @Test
    void theJoinedDeletionGoesTheWayOfTheCallersTransaction() throws Exception {
        assertThat(output(JoinedDeletion::main).lines())
                .containsExactly(
                        "After the rollback keeper 3 is there: true", "After the commit keeper 3 is there: false");
    }

    @Test
    void anApplicationsOwnTransactionsAreTakenPartIn() throws Exception {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:placements");
            try (Connection connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            JdbcApplication application = new JdbcApplication(database);

            assertThatThrownBy(() -> application.giveUp(1, 1, "x".repeat(41))).isInstanceOf(SQLException.class);
            assertThat(application.giveUp(1, 1, "Upper Fell").total()).isEqualTo(1);
            assertThat(application.giveUp(1, 1, "Upper Fell").total()).isZero();
        }
    }

    @Test
    void ofThosePickedByCriteriaTheBlockedAreLeftOutAndTheRestGoes() throws Exception {
        assertThat(output(PickedByCriteria::main).lines())
                .containsExactly(
                        "apiary.name = 'Fellside' and set_up_on < '2024-06-01' (by API too)",
                        "Left out: hive 6 'Fellside Six': 3 records of batch_hive forbid it by batch_hive.hive_id: a sold"
                                + " batch must stay traceable",
                        "Deleted {hive=4, inspection=39, frame_check=291, reading=2000, treatment=4, photo=10}");
    }

    @Test
    void theNightlyCleanUpGoesChunkByChunk() throws Exception {
        assertThat(output(NightlyCleanUp::main).lines())
                .containsExactly(
                        "old readings: done, 5359 records deleted, 1 kept, 0 failed",
                        "Bramble leaves: done, 3223 records deleted, 0 kept, 0 failed");
    }

    @Test
    void aKeeperLeavesAndComesBack() throws Exception {
        assertThat(output(KeeperLeaves::main).lines())
                .containsExactly(
                        "Marked: [keeper] of {keeper=1, apiary_keeper=1}",
                        "Deleted: keeper 3 by odile, kept for 15 more days",
                        "Deleted: keeper 12, kept for 0 more days",
                        "Active keepers: where (k.\"LEFT_AT\" is null)",
                        "Bring back 2 records that odile deleted, and put back 17 links?",
                        "Back: Hesper Quill");
    }

    @Test
    void whatWasDeletedByMistakeComesBack() throws Exception {
        assertThat(output(DeletedByMistake::main).lines())
                .containsExactly(
                        "Deleted {hive=1, inspection=13, frame_check=97, reading=500, treatment=2}",
                        "Brought back {hive=1, inspection=13, treatment=2, reading=500, frame_check=97}");
    }

    @Test
    void hivesThatAreDocumentsGoAndComeBack() throws Exception {
        assertThat(output(HivesAsDocuments::main).lines())
                .contains(
                        "Deleted {hive=1, reading=2}, changed {photo.hives=1}",
                        "It was {_id=2, name=Birch One, inspections=[{\"by\": \"tam\", \"queen\": false}]}",
                        "Photos: Document{{_id=p-1.jpg, hives=[1]}}");
    }

    @Test
    void theHistoryTellsWhoRemovedIt() throws Exception {
        assertThat(output(WhoRemovedIt::main).lines())
                .containsExactly("deleted by odile, colony lost: Bramble Three", "Nobody has changed that.");
    }

    private static String output(Program program) throws Exception {
        PrintStream before = System.out;
        ByteArrayOutputStream output = new ByteArrayOutputStream();
        System.setOut(new PrintStream(output, true, StandardCharsets.UTF_8));
        try {
            program.run(new String[0]);
        } finally {
            System.setOut(before);
        }
        return output.toString(StandardCharsets.UTF_8);
    }
}
