package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.cli.TerminalRun.Turn;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Without a selection, somebody at a terminal picks from a list; nobody else deletes anything. */
class PickingListTest extends OnTheDemo {
    private static final String LIST = "q to leave: ";
    private static final String QUESTION = "[y/N] ";

    private TerminalRun talk(String table, Turn... turns) throws Exception {
        return TerminalRun.talk(folder, Map.of(), List.of(turns), "delete", table);
    }

    private static Turn list(String said) {
        return new Turn(LIST, said + "\r");
    }

    private long hives() throws Exception {
        return DemoDatabase.number(folder, "select count(*) from hive");
    }

    @Test
    void whatIsSearchedSeenAndPickedIsAskedAboutAndGoes() throws Exception {
        TerminalRun run = talk("hive", list("/Bramble"), list("?3"), list("3"), new Turn(QUESTION, "y\n"));

        assertThat(run.screen())
                .contains("The first 20 of hive; search for others:")
                .contains("hive with 'Bramble':")
                .contains("   3  12 'Bramble Three'")
                .contains("set_up_on  2024-03-30")
                .contains("Delete hive 12 'Bramble Three' and about 616 records");
        assertThat(run.status()).isZero();
        assertThat(hives()).isEqualTo(39);
    }

    @Test
    void aNoLeadsBackToTheListAndWhoeverLeavesDeletesNothing() throws Exception {
        TerminalRun run = talk("hive", list("12"), new Turn(QUESTION, "n\n"), list("q"));

        assertThat(run.screen()).contains("Not approved.").contains("Nothing was deleted.");
        assertThat(run.status()).isEqualTo(4);
        assertThat(hives()).isEqualTo(40);
    }

    @Test
    void whatIsBlockedLeadsBackToTheListToo() throws Exception {
        TerminalRun run = talk("hive", list("4"), list("\u0004"));

        assertThat(run.screen()).contains("a sold batch must stay traceable").contains("Nothing was deleted.");
        assertThat(run.status()).isEqualTo(4);
    }

    @Test
    void severalArePickedAndNumbersThatAreNotThereAreTold() throws Exception {
        TerminalRun run = talk(
                "hive",
                list("/Bramble"),
                list("99"),
                list("3-1"),
                list("1 x"),
                list("3, 1"),
                new Turn(QUESTION, "n\n"),
                list("q"));

        assertThat(run.screen())
                .contains("'99' is no number of the list, which goes from 1 to 7.")
                .contains("'3-1' is no number of the list")
                .contains("'x' is no number of the list")
                .contains("Delete 2 of the 40 records of hive");
        assertThat(hives()).isEqualTo(40);
    }

    /** Deleted keepers aren't there to be deleted, and what is searched is a text, whatever stands in it. */
    @Test
    void onlyActiveRecordsAreListedAndASearchIsNoCriteria() throws Exception {
        TerminalRun run = talk("keeper", list("/' or 1 = 1 --"), list("/"), list("q"));

        assertThat(run.screen())
                .contains("There is nothing in keeper with '' or 1 = 1 --'.")
                .contains("'Hesper Quill'")
                .doesNotContain("Perpetua Sloe");
    }

    @Test
    void withoutATerminalNothingSelectedIsStillAnError() throws Exception {
        Tool.Result run = Tool.run(folder, "delete", "hive");

        assertThat(run.status()).isEqualTo(2);
        assertThat(run.err()).contains("Nothing says which records of hive; that never means all of them.");
    }
}
