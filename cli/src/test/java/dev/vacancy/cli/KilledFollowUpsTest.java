package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Workers are killed wherever they are: nothing is lost, and what comes again is recognised. {@code -Dvacancy.test.kills=200} has more of them. */
class KilledFollowUpsTest extends OnTheDemo {
    private static final int KILLS = Integer.getInteger("vacancy.test.kills", 8);
    private static final int EARLIEST = 200;
    private static final int SPREAD = 900;
    private static final int SHORTEST_PAUSE = 15;

    /** So long that there is something left to do at the last kill. */
    private static final int PAUSE = Math.max(SHORTEST_PAUSE, 2 * KILLS);

    private final Map<String, String> subjects = new ConcurrentHashMap<>();
    private final List<String> confused = new ArrayList<>();

    private HttpServer server() throws Exception {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            JsonNode event =
                    JsonMapper.shared().readTree(exchange.getRequestBody().readAllBytes());
            String subject =
                    event.get("subject").asString() + " " + event.get("type").asString();
            String before = subjects.put(event.get("id").asString(), subject);
            if (before != null && !before.equals(subject)) {
                confused.add(before + " and " + subject);
            }
            pause();
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        server.start();
        return server;
    }

    private static void pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(PAUSE);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void nothingIsLost() throws Exception {
        HttpServer server = server();
        Random random = new Random(5);
        String post = "files=http://localhost:" + server.getAddress().getPort() + "/events";
        try {
            assertThat(Tool.run(folder, "delete", "photo", "--where", "photo_id <= 119", "--yes")
                            .status())
                    .isZero();
            for (int kill = 0; kill < KILLS; kill++) {
                List<String> command = new ArrayList<>(ToolClasses.START);
                command.addAll(List.of("follow-ups", "work", "--stay", "--post", post));
                Process worker = new ProcessBuilder(command)
                        .directory(folder.toFile())
                        .redirectErrorStream(true)
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .start();
                TimeUnit.MILLISECONDS.sleep(EARLIEST + random.nextInt(SPREAD));
                worker.destroyForcibly().waitFor();
                // As if its five minutes were over.
                DemoDatabase.execute(folder, "update vacancy_follow_up set due_at = happened_at");
            }

            Tool.Result last = Tool.run(folder, "follow-ups", "work", "--post", post);

            assertThat(last.status()).as(last.err() + last.out()).isZero();
            assertThat(DemoDatabase.number(folder, "select count(*) from vacancy_follow_up"))
                    .isZero();
            assertThat(subjects).hasSize(119);
            assertThat(confused).isEmpty();
        } finally {
            server.stop(0);
        }
    }
}
