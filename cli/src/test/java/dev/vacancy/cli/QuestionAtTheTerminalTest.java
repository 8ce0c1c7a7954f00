package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.pty4j.PtyProcess;
import com.pty4j.PtyProcessBuilder;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The question as a person at a real terminal meets it. */
class QuestionAtTheTerminalTest extends OnTheDemo {
    private static final String QUESTION = "records that depend on it? [y/N] ";
    private static final String END_OF_INPUT = "\u0004";

    @ParameterizedTest
    @ValueSource(strings = {"yes\n", "y\n"})
    void yesDeletes(String answer) throws Exception {
        Session session = answering(answer, "delete", "hive", "--key", "12");

        assertThat(session.status()).isZero();
        assertThat(session.screen()).contains("Delete hive 12 'Bramble Three' and about 616 ", "Deleted 617 records");
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(39);
    }

    @ParameterizedTest
    @ValueSource(strings = {"no\n", "\n", "yes, I think\n", END_OF_INPUT})
    void everythingElseDoesNot(String answer) throws Exception {
        Session session = answering(answer, "delete", "hive", "--key", "12");

        assertThat(session.status()).isEqualTo(4);
        assertThat(session.screen()).contains("Not approved. Nothing was deleted.");
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void nothingIsAskedWhenYesIsGiven() throws Exception {
        Session session = run("", "", "delete", "hive", "--key", "12", "--yes");

        assertThat(session.status()).isZero();
        assertThat(session.screen()).doesNotContain("[y/N]");
    }

    @Test
    void aPasswordIsAskedForAndNotShown() throws Exception {
        DemoDatabase.protect(folder, "honey");

        Session right = run("Password of larkmoor: ", "honey\n", "preview", "hive", "--key", "12");
        Session wrong = run("Password of larkmoor: ", "wax\n", "preview", "hive", "--key", "12");

        assertThat(right.status()).isZero();
        assertThat(right.screen()).contains("Bramble Three").doesNotContain("honey");
        assertThat(wrong.status()).isEqualTo(2);
        assertThat(wrong.screen()).contains("doesn't let user 'larkmoor' in").doesNotContain("wax");
    }

    private Session answering(String answer, String... arguments) throws Exception {
        return run(QUESTION, answer, arguments);
    }

    /** What a person saw, and how it ended. */
    private record Session(int status, String screen) {}

    /** Runs the tool at a terminal and types as soon as the question is on the screen. */
    private Session run(String question, String answer, String... arguments) throws Exception {
        PtyProcess process = new PtyProcessBuilder(Tool.command(arguments).toArray(String[]::new))
                .setDirectory(folder.toString())
                .setEnvironment(Tool.environment(Map.of("TERM", "xterm")))
                .setInitialColumns(120)
                .setInitialRows(40)
                .start();
        StringBuilder screen = new StringBuilder();
        boolean answered = question.isEmpty();
        byte[] buffer = new byte[4096];
        InputStream output = process.getInputStream();
        for (int read = read(output, buffer); read >= 0; read = read(output, buffer)) {
            screen.append(new String(buffer, 0, read, StandardCharsets.UTF_8));
            if (!answered && screen.indexOf(question) >= 0) {
                process.getOutputStream().write(answer.getBytes(StandardCharsets.UTF_8));
                process.getOutputStream().flush();
                answered = true;
            }
        }
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        return new Session(process.exitValue(), screen.toString());
    }

    /** Linux reports an error instead of the end once the process has gone. */
    private static int read(InputStream output, byte[] buffer) {
        try {
            return output.read(buffer);
        } catch (IOException gone) {
            return -1;
        }
    }
}
