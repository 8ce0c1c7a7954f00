package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import org.eclipse.jetty.ee10.servlet.ServletContextHandler;
import org.eclipse.jetty.ee10.servlet.ServletHolder;
import org.eclipse.jetty.server.ForwardedRequestCustomizer;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;

/** The servlet in a real container; every response is held against the OpenAPI document. */
final class Site {
    private final HttpClient client = HttpClient.newHttpClient();
    private final Server server = new Server();
    private final Contract contract;
    private final String address;

    private Site(DeletionServlet servlet) throws Exception {
        contract = Contract.served();
        HttpConfiguration configuration = new HttpConfiguration();
        // As where a proxy stands before it that is to be believed.
        configuration.addCustomizer(new ForwardedRequestCustomizer());
        ServerConnector connector = new ServerConnector(server, new HttpConnectionFactory(configuration));
        connector.setHost("localhost");
        server.addConnector(connector);
        ServletContextHandler context = new ServletContextHandler();
        context.setContextPath("/app");
        context.addServlet(new ServletHolder(servlet), "/api/*");
        server.setHandler(context);
        server.start();
        address = "http://localhost:" + connector.getLocalPort() + "/app/api";
    }

    /** The header field X-User says who sends a request. */
    static Site of(Vacancy vacancy, List<String> tables, Permissions permissions, WebOptions options) throws Exception {
        return of(
                vacancy,
                tables,
                request -> Optional.ofNullable(request.getHeader("X-User"))
                        .filter(name -> !name.isEmpty())
                        .map(By::user),
                permissions,
                options);
    }

    static Site of(Vacancy vacancy, List<String> tables, Actors actors, Permissions permissions, WebOptions options)
            throws Exception {
        return new Site(new DeletionServlet(vacancy, tables, actors, permissions, options));
    }

    String address() {
        return address;
    }

    /** What the servlet never sees can't be as its document says. */
    HttpResponse<String> sendUnchecked(String method, String path, String header, String value) throws Exception {
        return client.send(
                HttpRequest.newBuilder(URI.create(address + path))
                        .method(method, HttpRequest.BodyPublishers.noBody())
                        .header(header, value)
                        .build(),
                BodyHandlers.ofString());
    }

    /** A path may be one that the servlet gave, as in Location. */
    HttpResponse<String> send(String method, String path, String body, String... headers) throws Exception {
        String below = path.startsWith("/app/api/") ? path.substring("/app/api".length()) : path;
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(address + below))
                .method(method, HttpRequest.BodyPublishers.ofString(body))
                .header("X-User", "odile")
                .header("Content-Type", "application/json");
        for (int i = 0; i < headers.length; i += 2) {
            request.setHeader(headers[i], headers[i + 1]);
        }
        HttpResponse<String> response = client.send(request.build(), BodyHandlers.ofString());
        contract.assertKept(method, below, response);
        return response;
    }

    /** Asks for what goes on and on. */
    CompletableFuture<HttpResponse<InputStream>> open(String path, String user) {
        return client.sendAsync(
                HttpRequest.newBuilder(URI.create(address + path))
                        .header("X-User", user)
                        .build(),
                BodyHandlers.ofInputStream());
    }

    void stop() throws Exception {
        server.stop();
    }
}
