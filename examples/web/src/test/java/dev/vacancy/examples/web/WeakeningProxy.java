package dev.vacancy.examples.web;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;

/**
 * Stands between a browser and the application, and makes each entity tag a weak one, as proxies do that compress what they hand on (RFC 9110,
 * section 8.8.1).
 */
final class WeakeningProxy implements AutoCloseable {
    /** What belongs to one connection (RFC 9110, section 7.6.1), or is set by the client itself. */
    private static final Set<String> OF_THE_CONNECTION =
            Set.of("host", "connection", "content-length", "upgrade", "transfer-encoding", "http2-settings");

    private final HttpClient client = HttpClient.newHttpClient();
    private final HttpServer server;
    private final String application;
    private final List<String> requests = new CopyOnWriteArrayList<>();

    WeakeningProxy(String application) throws IOException {
        this.application = application;
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", this::handOn);
        server.setExecutor(Executors.newCachedThreadPool());
        server.start();
    }

    /** Where the application is seen from here, with a slash at the end. */
    String address() {
        return "http://localhost:" + server.getAddress().getPort() + "/";
    }

    /** Method and path of each request so far, in order. */
    List<String> requests() {
        return List.copyOf(requests);
    }

    private void handOn(HttpExchange exchange) throws IOException {
        try (exchange) {
            requests.add(exchange.getRequestMethod() + " " + exchange.getRequestURI());
            URI there = URI.create(application).resolve(exchange.getRequestURI().toString());
            HttpRequest.Builder request = HttpRequest.newBuilder(there)
                    .method(
                            exchange.getRequestMethod(),
                            HttpRequest.BodyPublishers.ofByteArray(
                                    exchange.getRequestBody().readAllBytes()));
            exchange.getRequestHeaders().forEach((name, values) -> {
                if (!OF_THE_CONNECTION.contains(name.toLowerCase(java.util.Locale.ROOT))) {
                    values.forEach(value -> request.header(name, value));
                }
            });
            HttpResponse<byte[]> response = client.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
            response.headers().map().forEach((name, values) -> {
                if (!OF_THE_CONNECTION.contains(name)) {
                    values.forEach(value ->
                            exchange.getResponseHeaders().add(name, name.equals("etag") ? "W/" + value : value));
                }
            });
            byte[] body = response.body();
            exchange.sendResponseHeaders(response.statusCode(), body.length == 0 ? -1 : body.length);
            exchange.getResponseBody().write(body);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
