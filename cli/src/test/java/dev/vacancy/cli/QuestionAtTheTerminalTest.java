package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The question as a person at a real terminal meets it. */
class QuestionAtTheTerminalTest extends OnTheDemo {
    private static final String QUESTION = "records that depend on it? [y/N] ";
    private static final String END_OF_INPUT = "\u0004";

    @ParameterizedTest
    @ValueSource(strings = {"yes\n", "y\n"})
    void yesDeletes(String answer) throws Exception {
        TerminalRun session = answering(answer, "delete", "hive", "--key", "12");

        assertThat(session.status()).isZero();
        assertThat(session.screen()).contains("Delete hive 12 'Bramble Three' and about 616 ", "Deleted 617 records");
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(39);
    }

    @ParameterizedTest
    @ValueSource(strings = {"no\n", "\n", "yes, I think\n", END_OF_INPUT})
    void everythingElseDoesNot(String answer) throws Exception {
        TerminalRun session = answering(answer, "delete", "hive", "--key", "12");

        assertThat(session.status()).isEqualTo(4);
        assertThat(session.screen()).contains("Not approved. Nothing was deleted.");
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void nothingIsAskedWhenYesIsGiven() throws Exception {
        TerminalRun session = run("", "", "delete", "hive", "--key", "12", "--yes");

        assertThat(session.status()).isZero();
        assertThat(session.screen()).doesNotContain("[y/N]");
    }

    @ParameterizedTest
    @CsvSource({"Bramble Three, 0, 39", "yes, 4, 40", "bramble three, 4, 40"})
    void whereTheRulesSayTheLabelIsTyped(String answer, int status, int hives) throws Exception {
        consent("hive: label");

        TerminalRun session =
                run("Type Bramble Three to do so: ", answer + "\n", "delete", "hive", "--key", "12", "--yes");

        assertThat(session.status()).isEqualTo(status);
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(hives);
    }

    @Test
    void whereTheRulesSayNothingIsAsked() throws Exception {
        consent("reading: none");

        TerminalRun session = run("", "", "delete", "reading", "--key", "1");

        assertThat(session.status()).isZero();
        assertThat(session.screen()).contains("Deleted 1 record").doesNotContain("[y/N]");
    }

    @Test
    void whereTheRulesWantAColleagueOneHasToBeNamed() throws Exception {
        consent("hive: {colleague: true}");

        TerminalRun alone = run("", "", "delete", "hive", "--key", "12", "--yes");
        TerminalRun same = run("", "", "delete", "hive", "--key", "12", "--yes", "--as", "una", "--agreed-by", "una");
        TerminalRun both = run("", "", "delete", "hive", "--key", "12", "--yes", "--as", "una", "--agreed-by", "odile");

        assertThat(List.of(alone.status(), same.status(), both.status())).containsExactly(4, 4, 0);
        assertThat(alone.screen())
                .contains("A colleague has to agree as well.")
                .contains("By the rules a colleague has to agree to this as well.");
        assertThat(same.screen()).contains("una asks for this deletion and can't agree to it as a colleague.");
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(39);
    }

    private void consent(String rule) throws Exception {
        Path file = folder.resolve("vacancy.yaml");
        Files.writeString(file, Files.readString(file).replace("\nconsent:\n", "\nconsent:\n  " + rule + "\n"));
    }

    @Test
    void aPasswordIsAskedForAndNotShown() throws Exception {
        DemoDatabase.protect(folder, "honey");

        TerminalRun right = run("Password of larkmoor: ", "honey\n", "preview", "hive", "--key", "12");
        TerminalRun wrong = run("Password of larkmoor: ", "wax\n", "preview", "hive", "--key", "12");

        assertThat(right.status()).isZero();
        assertThat(right.screen()).contains("Bramble Three").doesNotContain("honey");
        assertThat(wrong.status()).isEqualTo(2);
        assertThat(wrong.screen()).contains("doesn't let user 'larkmoor' in").doesNotContain("wax");
    }

    private TerminalRun answering(String answer, String... arguments) throws Exception {
        return run(QUESTION, answer, arguments);
    }

    private TerminalRun run(String question, String answer, String... arguments) throws Exception {
        return TerminalRun.of(folder, Map.of(), question, answer, arguments);
    }
}
