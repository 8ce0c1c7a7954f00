package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.DemoPages;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.yaml.RulesFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.time.Duration;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whoever deletes, the application has the files of photos follow. */
class FilesOfPhotosTest {
    private static final Duration LONGEST = Duration.ofSeconds(30);
    private static final int HIVE_12 = 3;

    @Test
    void theyArePutAsideAndComeBack(@TempDir Path folder) throws Exception {
        Path file = Files.writeString(folder.resolve("vacancy.yaml"), """
                links:
                  photo.hive_no: hive
                rules:
                  photo.hive_no: cascade
                trail: on
                follow-ups:
                  photo: {files: photo_id}
                """);
        Path photos = Files.createDirectory(folder.resolve("photos"));
        for (int photo = 1; photo <= Larkmoor.PHOTOS; photo++) {
            Files.writeString(photos.resolve(photo + ".svg"), "<svg/>");
        }
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:photos");
            try (Connection connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            try (DemoPages pages = new LarkmoorPages().start(database, file, 0)) {
                assertThat(pages.address()).startsWith("http://localhost:");
                Vacancy elsewhere = Vacancy.over(database, RulesFile.read(file));
                By night = By.program("night");

                Outcome outcome = elsewhere.delete(Selection.of("hive").key(12), night);
                await(() -> files(photos) == Larkmoor.PHOTOS - HIVE_12);
                elsewhere.history().restore(Approval.of(elsewhere.history().planRestore(outcome.runId(), night)));
                await(() -> files(photos) == Larkmoor.PHOTOS);

                assertThat(outcome.counts()).containsEntry("photo", (long) HIVE_12);
            }
        }
    }

    private static void await(BooleanSupplier condition) throws InterruptedException {
        for (long end = System.nanoTime() + LONGEST.toNanos(); !condition.getAsBoolean(); ) {
            assertThat(System.nanoTime()).isLessThan(end);
            Thread.sleep(20);
        }
    }

    private static int files(Path folder) {
        String[] drawings = folder.toFile().list((any, name) -> name.endsWith(".svg"));
        return drawings == null ? 0 : drawings.length;
    }
}
