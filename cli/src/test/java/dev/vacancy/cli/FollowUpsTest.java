package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** What follows runs, at the command line. */
class FollowUpsTest extends OnTheDemo {
    @BeforeEach
    void hivesCanBeFound() throws Exception {
        Files.writeString(
                folder.resolve("vacancy.yaml"),
                Files.readString(folder.resolve("vacancy.yaml"))
                        .replace("  photo: {files: photo_id}", "  photo: {files: photo_id}\n  hive: {search: [name]}"));
        assertThat(run("ddl", "--apply", "--yes").status()).isZero();
    }

    private Tool.Result run(String... arguments) throws Exception {
        return Tool.run(folder, arguments);
    }

    private long photos() throws Exception {
        try (var files = Files.list(folder.resolve("photos"))) {
            return files.filter(Files::isRegularFile).count();
        }
    }

    @Test
    void filesGoAndComeBackWithTheirRecords() throws Exception {
        Tool.Result plan = run("preview", "hive", "--key", "12");
        assertThat(plan.out()).contains("Note: The follow-up 'search' is told of 1 record of hive.");
        assertThat(run("delete", "hive", "--key", "12", "--yes").status()).isZero();
        JsonNode waiting = json(0, "follow-ups");
        assertThat(waiting).hasSizeGreaterThan(1);

        Tool.Result worked = run("follow-ups", "work", "--files", "files=photos/{photo_id}.svg");

        long gone = 120 - photos();
        assertThat(gone).isPositive();
        assertThat(worked.status()).as(worked.err()).isZero();
        assertThat(worked.out()).contains(gone + (gone == 1 ? " message was handled." : " messages were handled."));
        assertThat(run("restore", "last", "--yes").status()).isZero();
        assertThat(json(0, "follow-ups", "work", "--files", "files=photos/{photo_id}.svg")
                        .get("handled")
                        .asLong())
                .isEqualTo(gone);
        assertThat(photos()).isEqualTo(120);
    }

    @Test
    void whatFailedIsListedSentAgainAndGivenUp() throws Exception {
        List<String> events = new ArrayList<>();
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        int[] status = {500};
        server.createContext("/", exchange -> {
            events.add(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
            exchange.sendResponseHeaders(status[0], -1);
            exchange.close();
        });
        server.start();
        String post = "search=http://localhost:" + server.getAddress().getPort() + "/events";
        try {
            run("delete", "hive", "--key", "12", "--yes");
            Tool.Result failed = run("follow-ups", "work", "--post", post);
            assertThat(failed.status()).isEqualTo(6);
            assertThat(failed.out()).contains("hive 12 deleted", "open", "answered with 500");
            JsonNode listed = ofSearch();
            String id = listed.get("id").asString();
            assertThat(listed.get("before").get("name").asString()).isNotEmpty();
            assertThat(listed.get("attempts").asInt()).isEqualTo(1);

            status[0] = 204;
            assertThat(run("follow-ups", "work", "--post", post).out()).contains("0 messages were handled.");
            assertThat(run("follow-ups", "again", id.substring(0, 8)).out()).contains("tried 0 times");
            assertThat(run("follow-ups", "work", "--post", post).out()).contains("1 message was handled.");
            assertThat(events).hasSize(2);
            assertThat(events.get(1)).contains("\"id\":\"" + id + "\"", "dev.vacancy.record.deleted");

            status[0] = 400;
            run("restore", "last", "--yes");
            run("follow-ups", "work", "--post", post);
            String second = ofSearch().get("id").asString();
            assertThat(run("follow-ups", "show", second).out())
                    .contains("hive 12 restored", "after: name = ", "failure: ");
            assertThat(run("follow-ups", "give-up", second).err()).contains("Nobody handles message " + second);
            run("follow-ups", "work", "--files", "files=photos/{photo_id}.svg");
            assertThat(run("follow-ups").out()).contains("Everything that follows was handled.");
        } finally {
            server.stop(0);
        }
    }

    @Test
    void aRestoreLooksWhetherTheFilesAreThere() throws Exception {
        run("delete", "hive", "--key", "12", "--yes");
        run("follow-ups", "work", "--files", "files=photos/{photo_id}.svg");
        try (var aside = Files.walk(folder.resolve("photos/.put-aside"))) {
            for (var file : aside.filter(Files::isRegularFile).toList()) {
                Files.delete(file);
            }
        }

        Tool.Result refused = run("restore", "last", "--yes", "--files", "files=photos/{photo_id}.svg");

        assertThat(refused.status()).isEqualTo(3);
        assertThat(refused.out()).contains("its file 21.svg is gone");
    }

    private JsonNode ofSearch() throws Exception {
        for (JsonNode message : json(0, "follow-ups")) {
            if (message.get("followUp").asString().equals("search")) {
                return message;
            }
        }
        throw new AssertionError("Nothing is left for search");
    }

    @Test
    void wrongUsageIsSaid() throws Exception {
        assertThat(run("follow-ups", "work").err()).contains("Give --files NAME=FOLDER or --post NAME=URL.");
        assertThat(run("follow-ups", "work", "--files", "file=photos").err())
                .contains("No follow-up is called 'file': the rules name files, search.");
        assertThat(run("follow-ups", "work", "--files", "files=nowhere").err()).contains("There is no folder");
        assertThat(run("follow-ups", "work", "--post", "search=ftp://x/").err()).contains("Nothing can be posted");
        assertThat(run("follow-ups", "work", "--post", "search=http://x/", "--sign-with", "NO_SUCH_VARIABLE")
                        .err())
                .contains("NO_SUCH_VARIABLE holds no secret of 32 characters");
        assertThat(run("follow-ups", "show").err()).contains("Nothing says which message to show.");
        assertThat(run("follow-ups", "again", "zz").err()).contains("No message begins with 'zz'.");
        assertThat(run("follow-ups", "undo").err()).contains("There is no action 'undo'.");
    }
}
