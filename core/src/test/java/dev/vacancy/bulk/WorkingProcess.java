package dev.vacancy.bulk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.util.UUID;
import java.util.concurrent.TimeUnit;

/** A process of its own that works on a run, and can be killed. */
final class WorkingProcess {
    private final Process process;
    private final BufferedReader said;

    private WorkingProcess(Process process) {
        this.process = process;
        this.said = new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    }

    static WorkingProcess on(Database database, BulkRun run) throws Exception {
        return on(database, run, false);
    }

    /** With a trail or without. */
    static WorkingProcess on(Database database, BulkRun run, boolean trail) throws Exception {
        return on(database, WorkerProcess.class, run.runId().toString(), String.valueOf(trail));
    }

    /** One that restores a run in portions. */
    static WorkingProcess restoring(Database database, UUID run) throws Exception {
        return on(database, RestorerProcess.class, run.toString(), "true");
    }

    private static WorkingProcess on(Database database, Class<?> program, String run, String trail) throws Exception {
        String url;
        String user;
        try (Connection connection = database.connect()) {
            // MariaDB's driver shows a password there, as asterisks.
            String told = connection.getMetaData().getURL().replaceAll("\\?user=.*", "");
            url = told.startsWith("jdbc:h2:") ? told + Engine.WHOLE_TRANSACTIONS : told;
            user = connection.getMetaData().getUserName();
        }
        String name = user == null ? "" : user.replaceAll("@.*", "");
        return new WorkingProcess(new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:TieredStopAtLevel=1",
                        "-cp",
                        System.getProperty("java.class.path"),
                        program.getName(),
                        url,
                        name,
                        url.contains("mariadb") ? name : "",
                        run,
                        trail)
                .redirectErrorStream(true)
                .start());
    }

    /** Waits until it has done a chunk or a portion. */
    void awaitChunk() throws IOException {
        StringBuilder heard = new StringBuilder();
        String line = said.readLine();
        while (line != null && !line.matches("[0-9]+")) {
            heard.append(line).append('\n');
            line = said.readLine();
        }
        assertThat(line).as(heard.toString()).isNotNull();
    }

    void kill() throws InterruptedException {
        process.destroyForcibly();
        assertThat(process.waitFor(30, TimeUnit.SECONDS)).isTrue();
    }

    /** Waits until it ends by itself, and returns its status. */
    int end(long time, TimeUnit unit) throws Exception {
        while (said.readLine() != null) {
            // What it says is no longer of interest, but has to be taken.
        }
        assertThat(process.waitFor(time, unit)).isTrue();
        return process.exitValue();
    }
}
