package dev.vacancy.examples.web;

import dev.vacancy.Vacancy;
import dev.vacancy.plan.By;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.web.DeletionServlet;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;
import org.eclipse.jetty.ee10.servlet.ServletContextHandler;
import org.eclipse.jetty.ee10.servlet.ServletHolder;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;

/** The application with its server: pages at {@code /}, deletion for programs at {@code /api}. */
public final class LarkmoorWeb implements AutoCloseable {
    /** Everybody's in the demo. */
    public static final String PASSWORD = "larkmoor";

    private static final List<String> TABLES =
            List.of("hive", "keeper", "apiary", "inspection", "queen", "treatment", "reading", "photo", "honey_batch");

    private final Server server;
    private final int port;

    private LarkmoorWeb(Server server, int port) {
        this.server = server;
        this.port = port;
    }

    /**
     * Starts the application.
     *
     * @param dataSource a database with the demo's tables
     * @param rules the demo's rules
     * @param port where it listens, on this machine only; 0 for any that is free
     * @return the running application
     * @throws IOException when it can't listen there
     */
    public static LarkmoorWeb start(DataSource dataSource, RuleBook rules, int port) throws IOException {
        Vacancy vacancy = Vacancy.over(dataSource, rules);
        Keepers keepers = new Keepers(dataSource);
        Server server = new Server();
        ServerConnector connector = new ServerConnector(server);
        connector.setHost("localhost");
        connector.setPort(port);
        server.addConnector(connector);
        ServletContextHandler context = new ServletContextHandler();
        context.setContextPath("/");
        DeletionServlet api =
                new DeletionServlet(vacancy, TABLES, request -> basic(request, keepers), (by, act, table) -> true);
        context.addServlet(new ServletHolder(api), "/api/*");
        context.addServlet(new ServletHolder(new PagesServlet(vacancy, keepers)), "/*");
        server.setHandler(context);
        try {
            server.start();
        } catch (Exception refused) {
            stop(server);
            throw refused instanceof IOException known ? known : new IOException(refused);
        }
        return new LarkmoorWeb(server, connector.getLocalPort());
    }

    /** Programs sign in with a keeper's e-mail address (HTTP Basic, RFC 7617). */
    private static Optional<By> basic(HttpServletRequest request, Keepers keepers) {
        String header = request.getHeader("Authorization");
        if (header == null || !header.regionMatches(true, 0, "Basic ", 0, 6)) {
            return Optional.empty();
        }
        try {
            String pair =
                    new String(Base64.getDecoder().decode(header.substring(6).strip()), StandardCharsets.UTF_8);
            int colon = pair.indexOf(':');
            boolean known = colon > 0
                    && pair.substring(colon + 1).equals(PASSWORD)
                    && keepers.isActive(pair.substring(0, colon));
            return known
                    ? Optional.of(By.user(pair.substring(0, colon)).because(request.getHeader("X-Reason")))
                    : Optional.empty();
        } catch (IllegalArgumentException wrong) {
            return Optional.empty();
        }
    }

    /**
     * Returns where it is.
     *
     * @return such as {@code http://localhost:8080/}
     */
    public String address() {
        return "http://localhost:" + port + "/";
    }

    /**
     * Waits until it ends.
     *
     * @throws InterruptedException when the waiting is ended
     */
    public void join() throws InterruptedException {
        server.join();
    }

    private static void stop(Server server) {
        try {
            server.stop();
        } catch (Exception ended) {
            throw new IllegalStateException("the server doesn't stop", ended);
        }
    }

    @Override
    public void close() {
        stop(server);
    }
}
