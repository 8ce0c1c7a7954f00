package dev.vacancy.examples.web;

import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.demo.DemoPages;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.web.DeletionServlet;
import dev.vacancy.web.WebOptions;
import java.io.IOException;
import java.security.SecureRandom;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.eclipse.jetty.ee10.servlet.ServletContextHandler;
import org.eclipse.jetty.ee10.servlet.ServletHolder;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/** The application with its server: pages at {@code /}, deletion for programs at {@code /api}. */
public final class LarkmoorWeb implements DemoPages {
    /** Everybody's in the demo. */
    public static final String PASSWORD = "larkmoor";

    private static final int MOST_THREADS = 60;
    private static final long LONGEST_SILENCE_MILLIS = 30_000;
    private static final int MOST_FORM_BYTES = 200_000;
    private static final List<String> TABLES =
            List.of("hive", "keeper", "apiary", "inspection", "queen", "treatment", "reading", "photo", "honey_batch");

    private final Server server;
    private final int port;
    private final FollowingUp followingUp;

    private LarkmoorWeb(Server server, int port, FollowingUp followingUp) {
        this.server = server;
        this.port = port;
        this.followingUp = followingUp;
    }

    /**
     * Starts the application.
     *
     * @param dataSource a database with the demo's tables
     * @param rules the demo's rules
     * @param handlers what is done of what the rules let follow, by name
     * @param port where it listens, on this machine only; 0 for any that is free
     * @return the running application
     * @throws IOException when it can't listen there
     */
    public static LarkmoorWeb start(
            DataSource dataSource, RuleBook rules, Map<String, FollowUpHandler> handlers, int port) throws IOException {
        Keepers keepers = new Keepers(dataSource);
        SearchIndex search = SearchIndex.of(keepers);
        FollowingUp followingUp = new FollowingUp();
        Map<String, FollowUpHandler> all = new HashMap<>(handlers);
        all.put("search", search);
        Vacancy vacancy = followed(dataSource, rules, all).withListener(followingUp);
        Server server = new Server(new QueuedThreadPool(MOST_THREADS));
        ServerConnector connector = new ServerConnector(server);
        connector.setIdleTimeout(LONGEST_SILENCE_MILLIS);
        connector.setHost("localhost");
        connector.setPort(port);
        server.addConnector(connector);
        ServletContextHandler context = new ServletContextHandler();
        context.setContextPath("/");
        context.setMaxFormContentSize(MOST_FORM_BYTES);
        ApprovalKeys keys = ApprovalKeys.signingWith("demo", secret());
        Approvals approvals = Approvals.of(vacancy, keys);
        Visitors visitors = new Visitors(keepers);
        DeletionServlet api = new DeletionServlet(
                vacancy,
                TABLES,
                visitors::of,
                (by, act, table) -> true,
                WebOptions.defaults().signing(keys));
        context.addServlet(new ServletHolder(api), "/api/*");
        context.addServlet(new ServletHolder(new PagesServlet(vacancy, approvals, keepers, visitors, search)), "/*");
        context.setErrorHandler(new ProblemHandler());
        server.setErrorHandler(new ProblemHandler());
        server.setHandler(context);
        try {
            server.start();
            followingUp.begin(vacancy);
        } catch (Exception refused) {
            stop(server);
            followingUp.close();
            throw refused instanceof IOException known ? known : new IOException(refused);
        }
        return new LarkmoorWeb(server, connector.getLocalPort(), followingUp);
    }

    /** What is followed needs tables of its own. */
    private static Vacancy followed(DataSource dataSource, RuleBook rules, Map<String, FollowUpHandler> handlers) {
        RuleBook followed =
                rules.followUp("hive", FollowUp.named("search").columns(SearchIndex.COLUMNS.toArray(String[]::new)));
        Ddl.of(dataSource, followed, Ddl.Part.APPROVALS, Ddl.Part.BULK_RUNS).apply();
        Vacancy vacancy = Vacancy.over(dataSource, followed);
        for (Map.Entry<String, FollowUpHandler> handler : handlers.entrySet()) {
            vacancy = vacancy.withFollowUp(handler.getKey(), handler.getValue());
        }
        return vacancy;
    }

    /** For as long as this process lives; an application would take it from its configuration. */
    private static byte[] secret() {
        byte[] secret = new byte[ApprovalKeys.LEAST_BYTES];
        new SecureRandom().nextBytes(secret);
        return secret;
    }

    @Override
    public String address() {
        return "http://localhost:" + port + "/";
    }

    @Override
    public String password() {
        return PASSWORD;
    }

    @Override
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
        followingUp.close();
    }
}
