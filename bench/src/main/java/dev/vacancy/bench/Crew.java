package dev.vacancy.bench;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.followup.FollowUps;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.function.Consumer;
import javax.sql.DataSource;

/**
 * Processes that begin at once to do the same work together. Each is started with the compiler that the command-line tool is started with: a
 * better one takes longer than all the work.
 */
final class Crew implements AutoCloseable {
    private final List<Process> workers = new ArrayList<>();

    private Crew() {}

    /**
     * Starts processes and waits until all are ready.
     *
     * @param arguments what each is told beside the database's URL and user: what to do, and how long each message takes
     */
    static Crew of(int processes, DataSource source, String... arguments) throws SQLException, IOException {
        Crew crew = new Crew();
        for (int i = 0; i < processes; i++) {
            crew.workers.add(start(source, arguments));
        }
        for (Process worker : crew.workers) {
            hear(worker);
        }
        return crew;
    }

    /**
     * Lets them work, until the last has ended.
     *
     * @param of what each is told to work on
     */
    Shift work(String of) throws IOException {
        Duration before = cpu();
        long start = System.nanoTime();
        for (Process worker : workers) {
            worker.getOutputStream().write((of + "\n").getBytes(StandardCharsets.UTF_8));
            worker.getOutputStream().flush();
        }
        for (Process worker : workers) {
            hear(worker);
        }
        double millis = (System.nanoTime() - start) / 1e6;
        return new Shift(millis, cpu().minus(before).toMillis() / millis);
    }

    /**
     * What work took.
     *
     * @param millis how long
     * @param cores how many processor cores were busy with the workers on average, the server's not among them
     */
    record Shift(double millis, double cores) {}

    private Duration cpu() {
        return workers.stream()
                .map(worker -> worker.info().totalCpuDuration().orElse(Duration.ZERO))
                .reduce(Duration.ZERO, Duration::plus);
    }

    private static Process start(DataSource source, String... arguments) throws SQLException, IOException {
        try (Connection connection = source.getConnection()) {
            List<String> command = new ArrayList<>(List.of(
                    Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                    "-XX:TieredStopAtLevel=1",
                    "-cp",
                    System.getProperty("java.class.path"),
                    Crew.class.getName(),
                    connection.getMetaData().getURL(),
                    connection.getMetaData().getUserName()));
            command.addAll(List.of(arguments));
            return new ProcessBuilder(command)
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
        }
    }

    /** Waits for a process to say that it is ready, or done. */
    private static void hear(Process worker) throws IOException {
        int heard = worker.getInputStream().read();
        while (heard >= 0 && heard != '\n') {
            heard = worker.getInputStream().read();
        }
        if (heard < 0) {
            throw new IllegalStateException("A process has failed in the middle of its work");
        }
    }

    @Override
    public void close() {
        workers.forEach(Process::destroy);
    }

    /**
     * Works whenever a line comes, which says on what: the bulk run, or nothing for messages.
     *
     * @param arguments the database's URL, its user, what to do, and how many milliseconds each message takes
     * @throws IOException when no line can be read
     */
    public static void main(String[] arguments) throws IOException {
        try (HikariDataSource source = new HikariDataSource();
                BufferedReader lines = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8))) {
            source.setJdbcUrl(arguments[0]);
            source.setUsername(arguments[1]);
            source.setMaximumPoolSize(2);
            Consumer<String> work = work(source, arguments[2], Long.parseLong(arguments[3]));
            System.out.println("ready");
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                work.accept(line);
                System.out.println("done");
            }
        }
    }

    private static Consumer<String> work(DataSource source, String what, long millis) {
        if (what.equals("messages")) {
            FollowUps followUps = Vacancy.over(source, Workers.FOLLOWED)
                    .withFollowUp(Workers.FOLLOW_UP, message -> Thread.sleep(millis))
                    .followUps();
            return any -> followUps.work();
        }
        Vacancy vacancy = what.equals("recorded") ? Vacancy.over(source, Workers.RECORDED) : Vacancy.over(source);
        return run ->
                vacancy.bulk().work(UUID.fromString(run), BulkOptions.defaults(), Exemption.none(), progress -> {});
    }
}
