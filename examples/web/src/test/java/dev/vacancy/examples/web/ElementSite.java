package dev.vacancy.examples.web;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.web.DeletionServlet;
import dev.vacancy.web.WebOptions;
import jakarta.servlet.DispatcherType;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import org.eclipse.jetty.ee10.servlet.ServletContextHandler;
import org.eclipse.jetty.ee10.servlet.ServletHolder;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;

/** A page of a test's own with the element, and the servlet beside it. Who asks is told by the header field X-User, as a token would be. */
final class ElementSite {
    private final HikariDataSource database = new HikariDataSource();
    private final List<String> requests = Collections.synchronizedList(new ArrayList<>());
    private final Server server = new Server();
    private final int port;
    private volatile String page = "";

    private ElementSite() throws Exception {
        database.setJdbcUrl("jdbc:h2:mem:element" + System.nanoTime());
        execute(
                "create table keeper (keeper_id integer primary key, name varchar(60), left_at timestamp)",
                "create table inspection (inspection_id integer primary key, keeper_id integer references keeper)",
                "create table queen (queen_id integer primary key, name varchar(60))",
                "create table jar (a varchar(9), b integer, primary key (a, b))",
                "create table reading (reading_id integer primary key, weight integer)",
                "create table apiary (apiary_id integer primary key, name varchar(60))",
                "insert into keeper values (1, 'Odile', null), (2, 'Tam', null), (3, 'Una', null)",
                "insert into inspection values (1, 1), (2, 1)",
                "insert into queen values (1, 'a $& b $1'), (2, 'Bryony'), (3, 'Cora'), (4, 'Della'), (5, 'Edda')",
                "insert into jar values ('x, y', 1), ('[z]', 2), ('w', 3)",
                "insert into reading select x, 7 from system_range(1, 600)",
                "insert into apiary values (1, 'Fellside')");
        RuleBook rules = RuleBook.bySchema()
                .on("inspection.keeper_id", Clause.reassign())
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults())
                .consent("queen", ConsentRule.atLeast(Consent.LABEL))
                .consent("apiary", ConsentRule.atLeast(Consent.YES).withColleague())
                .trail(Trail.defaults());
        Ddl.of(database, rules).apply();
        Vacancy vacancy = Vacancy.over(database, rules);
        ApprovalKeys keys = ApprovalKeys.signingWith("one", new byte[ApprovalKeys.LEAST_BYTES]);
        Ddl.of(database, Ddl.Part.APPROVALS, Ddl.Part.BULK_RUNS).apply();
        DeletionServlet api = new DeletionServlet(
                vacancy,
                List.of("keeper", "queen", "jar", "reading", "apiary"),
                request -> Optional.ofNullable(request.getHeader("X-User")).map(By::user),
                (by, act, table) -> true,
                WebOptions.defaults().signing(keys).inChunksBeyond(100));
        ServerConnector connector = new ServerConnector(server);
        connector.setHost("localhost");
        server.addConnector(connector);
        ServletContextHandler context = new ServletContextHandler();
        context.addServlet(new ServletHolder(api), "/api/*");
        context.addServlet(new ServletHolder(new Page()), "/*");
        context.addFilter(
                (request, response, chain) -> {
                    HttpServletRequest asked = (HttpServletRequest) request;
                    requests.add(asked.getMethod() + " " + asked.getRequestURI());
                    chain.doFilter(request, response);
                },
                "/api/*",
                EnumSet.of(DispatcherType.REQUEST));
        server.setHandler(context);
        server.start();
        port = connector.getLocalPort();
    }

    static ElementSite start() throws Exception {
        return new ElementSite();
    }

    private final class Page extends HttpServlet {
        private static final long serialVersionUID = 1L;

        @Override
        protected void doGet(HttpServletRequest request, HttpServletResponse response) throws IOException {
            response.setContentType("text/html;charset=UTF-8");
            response.getOutputStream()
                    .write(("<!DOCTYPE html><html lang=\"en\"><head><title>Queens</title>"
                                    + "<script type=\"module\" src=\"/api/deletion.js\"></script><script type=\"module\">"
                                    + "window.told = []; window.user = 'odile';"
                                    + "customElements.get('vacancy-deletion').headers = async () => ({'X-User': window.user});"
                                    + "for (const name of ['deleted', 'begun', 'restored', 'refused', 'cancelled', 'settled',"
                                    + " 'agreement-needed']) document.addEventListener(name, event => {"
                                    + " window.told.push(name); window[name] = event.detail; });"
                                    + "window.ready = true;</script></head><body><main><h1>Queens</h1>"
                                    + page + "</main></body></html>")
                            .getBytes(StandardCharsets.UTF_8));
        }
    }

    /** Puts markup into the page. */
    String page(String markup) {
        page = markup;
        requests.clear();
        return "http://localhost:" + port + "/";
    }

    /** What was asked of the servlet since. */
    List<String> requests() {
        return List.copyOf(requests);
    }

    void execute(String... statements) throws SQLException {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    String value(String query) throws SQLException {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement();
                var row = statement.executeQuery(query)) {
            return row.next() ? row.getString(1) : "";
        }
    }

    void stop() throws Exception {
        server.stop();
        database.close();
    }
}
