package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** What the verb check says of a configuration and its database. */
class CheckTest extends OnTheDemo {
    @Test
    void findingsSayWhereWhyAndWhatToDo() throws Exception {
        Tool.Result check = Tool.run(folder, "check");

        assertThat(check.status()).isEqualTo(1);
        assertThat(check.out()).isEqualToNormalizingNewlines("""
                        a foreign key without an index
                          photo.hive_no
                            why     each deletion from hive reads all of photo to find its children
                            remedy  create index photo_by_hive_no on photo (hive_no)
                          photo.apiary_no
                            why     each deletion from apiary reads all of photo to find its children
                            remedy  create index photo_by_apiary_no on photo (apiary_no)

                        2 findings.
                        """);
    }

    @Test
    void withoutItsRulesThePhotosLookLikeUndeclaredLinks() throws Exception {
        Path file = folder.resolve("vacancy.yaml");
        Files.writeString(file, Files.readString(file).replaceFirst("(?s)\nlinks:.*", "\n"));

        Tool.Result check = Tool.run(folder, "check");

        assertThat(check.status()).isEqualTo(1);
        assertThat(check.out())
                .contains("a column that looks like a link", "photo.hive_no", "photo.apiary_no")
                .contains("values read from it are keys of hive, but no foreign key says so");
    }

    @Test
    void rulesThatDontFitAreFindingsWithTheirLines() throws Exception {
        Path file = folder.resolve("vacancy.yaml");
        Files.writeString(
                file,
                Files.readString(file)
                        .replace("  photo.apiary_no: detach", "  photo.apiary_nr: detach\n  hive.apiary_id: detach"));

        Tool.Result check = Tool.run(folder, "check");

        assertThat(check.status()).isEqualTo(1);
        assertThat(check.out())
                .contains("a rule that can't be kept")
                .containsPattern("vacancy\\.yaml, line \\d+\n    why     There is no link 'photo.apiary_nr'")
                .contains("children on hive.apiary_id can't be detached: the column may not be null")
                .contains("the link photo.apiary_no isn't declared");
    }

    @Test
    void aSoundDatabaseEndsWithZero() throws Exception {
        DemoDatabase.execute(
                folder,
                "create index photo_by_hive on photo (hive_no)",
                "create index photo_by_apiary on photo (apiary_no)");

        Tool.Result check = Tool.run(folder, "check");

        assertThat(check.status()).isZero();
        assertThat(check.out()).isEqualToNormalizingNewlines("Nothing found: schema and rules are sound.\n");
    }
}
