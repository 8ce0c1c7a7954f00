package dev.vacancy.examples.spring;

import dev.vacancy.testing.Database;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ApplicationContextInitializer;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.support.GenericApplicationContext;

/** The application as it is served, on a database of a test's. */
final class RunningMarinas implements AutoCloseable {
    private static final Pattern TOKEN = Pattern.compile("name=\"csrf\" content=\"([^\"]+)\" data-header=\"([^\"]+)\"");

    private final ConfigurableApplicationContext context;

    private RunningMarinas(ConfigurableApplicationContext context) {
        this.context = context;
    }

    static RunningMarinas on(Database database) {
        return on(database, MarinasApplication.class);
    }

    static RunningMarinas on(Database database, Class<?> application, String... more) {
        List<String> arguments = new ArrayList<>(
                List.of("--server.port=0", "--vacancy.worker=false", "--logging.level.dev.vacancy=warn"));
        arguments.addAll(List.of(more));
        ApplicationContextInitializer<GenericApplicationContext> source =
                starting -> starting.registerBean("dataSource", DataSource.class, database::source);
        return new RunningMarinas(
                new SpringApplicationBuilder(application).initializers(source).run(arguments.toArray(String[]::new)));
    }

    <T> T bean(Class<T> type) {
        return context.getBean(type);
    }

    String address() {
        return "http://localhost:" + context.getEnvironment().getRequiredProperty("local.server.port");
    }

    /** Somebody who has signed in, with the page open. */
    Visitor visitor(String name) throws IOException, InterruptedException {
        return new Visitor(name);
    }

    @Override
    public void close() {
        context.close();
    }

    /** A person with a browser of their own. */
    final class Visitor {
        private final HttpClient browser =
                HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
        private final String name;
        private final String page;

        private Visitor(String name) throws IOException, InterruptedException {
            this.name = name;
            this.page = send("GET", "/", "Accept", "text/html").body();
        }

        String page() {
            return page;
        }

        HttpResponse<String> get(String path) throws IOException, InterruptedException {
            return send("GET", path, "Accept", "application/json, application/problem+json");
        }

        /** With the token of the page, which whatever changes anything needs. */
        HttpResponse<String> change(String method, String path) throws IOException, InterruptedException {
            Matcher token = TOKEN.matcher(page);
            if (!token.find()) {
                throw new IllegalStateException(page);
            }
            return send(
                    method,
                    path,
                    token.group(2),
                    token.group(1),
                    "Accept",
                    "application/json, application/problem+json");
        }

        private HttpResponse<String> send(String method, String path, String... headers)
                throws IOException, InterruptedException {
            String secret = Base64.getEncoder().encodeToString((name + ":" + name).getBytes(StandardCharsets.UTF_8));
            return browser.send(
                    HttpRequest.newBuilder(URI.create(address() + path))
                            .method(method, HttpRequest.BodyPublishers.noBody())
                            .headers(headers)
                            .header("Authorization", "Basic " + secret)
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
        }
    }
}
