package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The demo: what it writes, what it shows, and what it leaves alone. */
class DemoTest {
    @TempDir
    private Path folder;

    @Test
    void theDemoWritesItsFolderAndWalksThroughTheJobOnACopy() throws Exception {
        Tool.Result demo = Tool.process(folder, "demo", "--all");

        assertThat(demo.status()).isZero();
        assertThat(demo.err()).isEmpty();
        assertThat(demo.out())
                .contains("$ vacancy map --config larkmoor")
                .contains("$ vacancy preview hive --key 12 --config larkmoor")
                .contains("records of inspection where hive.name = 'Bramble Three'")
                .contains("a sold batch must stay traceable", "(exit status 3)")
                .contains("[y/N] no\nNot approved. Nothing was deleted.\n(exit status 4)")
                .contains("Deleted 617 records", "because: colony lost")
                .contains("photo.hive_no\n    why ", "2 findings.\n(exit status 1)")
                .contains("Left out 1 record of hive, because blocked: 4", "(exit status 6)")
                .contains("Not found in hive: 12\n(exit status 5)");
        assertThat(DemoDatabase.number(folder.resolve("larkmoor"), "select count(*) from hive"))
                .isEqualTo(40);
        assertThat(Files.readString(folder.resolve("larkmoor/vacancy.yaml"))).contains("# ", "url: jdbc:h2:file:");
    }

    @Test
    void aStepIsAboutAScreenUnlessAllIsAskedFor() throws Exception {
        Tool.Result demo = Tool.process(folder, "demo");

        assertThat(demo.status()).isZero();
        assertThat(demo.out())
                .contains("more lines: demo --all", "Deleted 617 records", "a sold batch must stay traceable");
        assertThat(demo.out().split("\n\n# "))
                .hasSizeGreaterThan(15)
                .allSatisfy(step -> assertThat(step.lines()).hasSizeLessThan(32));
    }

    @Test
    void theJobIsWalkedThroughOnDocuments() throws Exception {
        Tool.Result demo = Tool.process(folder, "demo", "--documents", "--all", "--port", "0");

        assertThat(demo.status()).as(demo.err()).isZero();
        assertThat(demo.out())
                .contains("$ vacancy map --config larkmoor")
                .contains("└─ photo.hives              stays, detached     the rule says detach\n")
                .contains("queen        name Elowen, mark red", "… 10 more")
                .contains("photo.hives no longer refers to what goes")
                .contains("a sold batch must stay traceable", "(exit status 3)")
                .contains("[y/N] no\nNot approved. Nothing was deleted.\n(exit status 4)")
                .contains("Deleted 501 records: hive 1, reading 500")
                .contains("1,209 of 1,209 records of reading deleted, 0 skipped, 0 failed, 0 open")
                .contains("Put back 6 records: hive.inspections.keeper")
                .contains("Intact: 6 runs", "Deleted 1 record: keeper 1");
        assertThat(Files.readString(folder.resolve("larkmoor/vacancy.yaml"))).contains("url: mongodb://127.0.0.1:");
        assertThat(DemoDatabase.files(folder.resolve("larkmoor"))).hasSize(2);
    }

    @Test
    void thePagesAreOfTheRelationalDatabase() throws Exception {
        Tool.Result demo = Tool.process(folder, "demo", "--documents", "--web");

        assertThat(demo.status()).isEqualTo(2);
        assertThat(demo.err()).contains("works on the relational database", "Leave out --web or --documents.");
    }

    @Test
    void aSecondDemoStartsAfresh() throws Exception {
        Tool.process(folder, "demo", "--dir", "bees");
        Tool.process(folder.resolve("bees"), "delete", "hive", "--key", "12", "--yes");
        assertThat(DemoDatabase.number(folder.resolve("bees"), "select count(*) from hive"))
                .isEqualTo(39);

        Tool.Result again = Tool.process(folder, "demo", "--dir", "bees");

        assertThat(again.status()).isZero();
        assertThat(DemoDatabase.number(folder.resolve("bees"), "select count(*) from hive"))
                .isEqualTo(40);
    }

    @Test
    void aFolderOfSomebodyElseIsNotTouched() throws Exception {
        Files.writeString(folder.resolve("letters.txt"), "dear Odile");

        Tool.Result demo = Tool.process(folder, "demo", "--dir", ".");

        assertThat(demo.status()).isEqualTo(2);
        assertThat(demo.err()).contains("holds files that the demo didn't make", "--dir DIR");
        assertThat(DemoDatabase.files(folder)).hasSize(1);
    }

    @Test
    void aFileIsNeverReplaced() throws Exception {
        Files.writeString(folder.resolve("vacancy.yaml"), "database:\n");

        Tool.Result demo = Tool.process(folder, "demo", "--dir", ".");

        assertThat(demo.status()).isEqualTo(2);
        assertThat(demo.err()).contains("has a file vacancy.yaml already");
        assertThat(Files.readString(folder.resolve("vacancy.yaml"))).isEqualTo("database:\n");
    }
}
