package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.pty4j.PtyProcess;
import com.pty4j.PtyProcessBuilder;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/**
 * The tool run at a real terminal.
 *
 * @param status how it ended
 * @param shown all that came to the terminal, with its colours
 */
record TerminalRun(int status, String shown) {
    /** Runs the tool at a terminal and types as soon as the question is on the screen. */
    static TerminalRun of(
            Path folder, Map<String, String> environment, String question, String answer, String... arguments)
            throws Exception {
        return talk(
                folder, environment, question.isEmpty() ? List.of() : List.of(new Turn(question, answer)), arguments);
    }

    /**
     * What is typed when something stands on the screen.
     *
     * @param question what stands there, after what was typed before
     * @param answer what is typed, with its end of line
     */
    record Turn(String question, String answer) {}

    /** Does the same with several questions. */
    static TerminalRun talk(Path folder, Map<String, String> environment, List<Turn> turns, String... arguments)
            throws Exception {
        Map<String, String> all = Tool.environment(environment);
        all.putIfAbsent("TERM", "xterm");
        PtyProcess process = new PtyProcessBuilder(Tool.command(arguments).toArray(String[]::new))
                .setDirectory(folder.toString())
                .setEnvironment(all)
                .setInitialColumns(120)
                .setInitialRows(40)
                .start();
        StringBuilder screen = new StringBuilder();
        Deque<Turn> open = new ArrayDeque<>(turns);
        int seen = 0;
        byte[] buffer = new byte[4096];
        InputStream output = process.getInputStream();
        for (int read = read(output, buffer); read >= 0; read = read(output, buffer)) {
            screen.append(new String(buffer, 0, read, StandardCharsets.UTF_8));
            if (!open.isEmpty() && screen.indexOf(open.peek().question(), seen) >= 0) {
                seen = screen.length();
                process.getOutputStream().write(open.pop().answer().getBytes(StandardCharsets.UTF_8));
                process.getOutputStream().flush();
            }
        }
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        return new TerminalRun(process.exitValue(), screen.toString());
    }

    /** What a person reads, without the colours. */
    String screen() {
        return shown.replaceAll("\u001B(\\[[0-9;?]*[a-zA-Z]|[=>])", "");
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
