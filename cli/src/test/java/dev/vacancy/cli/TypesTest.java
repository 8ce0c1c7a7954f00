package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

class TypesTest extends OnTheDemo {
    @Test
    void oneClassForEachTableIsWrittenAndMadeAnew() throws Exception {
        Tool.Result first = Tool.run(folder, "types", "--package", "larkmoor.tables", "--out", "src");
        JsonNode second = json(0, "types", "--package", "larkmoor.tables", "--out", "src");

        assertThat(first.status()).as(first.err()).isZero();
        assertThat(first.out()).contains("src/larkmoor/tables/HiveTable.java");
        assertThat(first.err()).contains("13 of 13 classes written or removed.");
        assertThat(folder.resolve("src/larkmoor/tables/PhotoTable.java"))
                .content()
                .contains("ColumnCriteria<Integer> HIVE_NO", "refers to {@code hive}");
        assertThat(second.get("classes")).hasSize(13);
        assertThat(second.get("changedFiles")).isEmpty();
    }

    @Test
    void classesMayStandInAnotherFolder(@TempDir Path elsewhere) throws Exception {
        Tool.Result done = Tool.run(folder, "types", "--package", "larkmoor", "--out", elsewhere.toString());

        assertThat(done.status()).as(done.err()).isZero();
        assertThat(done.out().lines())
                .contains(elsewhere.resolve("larkmoor/HiveTable.java").toString());
    }

    @Test
    void nothingIsReplacedThatSomebodyElseWrote() throws Exception {
        Files.createDirectories(folder.resolve("src/larkmoor"));
        Files.writeString(folder.resolve("src/larkmoor/HiveTable.java"), "package larkmoor; class HiveTable {}");

        Tool.Result refused = Tool.run(folder, "types", "--package", "larkmoor", "--out", "src");

        assertThat(refused.status()).isEqualTo(2);
        assertThat(refused.err()).contains("HiveTable.java wasn't made from a catalog.");
        assertThat(folder.resolve("src/larkmoor/ApiaryTable.java")).doesNotExist();
    }

    @Test
    void aFolderThatCannotBeWrittenToAndAMissingPackageAreSaid() throws Exception {
        Files.writeString(folder.resolve("file"), "");

        Tool.Result file = Tool.run(folder, "types", "--package", "larkmoor", "--out", "file");
        Tool.Result missing = Tool.run(folder, "types", "--out", "src");

        assertThat(file.status()).isEqualTo(1);
        assertThat(file.err()).contains("The classes can't be written to").contains("Name a folder");
        assertThat(missing.status()).isEqualTo(2);
        assertThat(missing.err()).contains("--package");
    }
}
