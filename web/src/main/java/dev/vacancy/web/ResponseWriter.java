package dev.vacancy.web;

import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.UUID;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Writes what a request is answered with. */
final class ResponseWriter {
    static final String PROBLEM = "application/problem+json";

    private static final Logger LOG = LoggerFactory.getLogger(DeletionServlet.class);

    private final HttpServletRequest request;
    private final HttpServletResponse response;
    private final Supplier<Wording> wording;

    ResponseWriter(HttpServletRequest request, HttpServletResponse response, Supplier<Wording> wording) {
        this.request = request;
        this.response = response;
        this.wording = wording;
    }

    void write(Answer answer) throws IOException {
        response.setStatus(answer.status());
        answer.headers().forEach(response::setHeader);
        if (answer.body().isPresent()) {
            response.setHeader("Vary", "Accept-Language");
            byte[] content = Exchange.JSON.writeValueAsBytes(answer.body().get());
            answer.fingerprint().ifPresent(fingerprint -> response.setHeader("ETag", Answer.tag(fingerprint, content)));
            write("application/json", content);
        }
    }

    void write(Problem problem) throws IOException {
        write(problem, instance());
    }

    /** The server is to blame: its log has the cause, by the same instance. */
    void failed(Problem problem, Throwable cause) throws IOException {
        String instance = instance();
        LOG.error("{} {} failed, {}", request.getMethod(), request.getRequestURI(), instance, cause);
        if (response.isCommitted()) {
            return;
        }
        write(problem, instance);
    }

    /** This occurrence, to be found in the log (RFC 9457, section 3.1.5). */
    private static String instance() {
        return "urn:uuid:" + UUID.randomUUID();
    }

    private void write(Problem problem, String instance) throws IOException {
        Wording words = words();
        response.setStatus(problem.status());
        problem.headers().forEach(response::setHeader);
        response.setHeader("Content-Language", words.locale().toLanguageTag());
        response.setHeader("Vary", "Accept-Language");
        response.setHeader("Cache-Control", "no-store");
        write(PROBLEM, Exchange.JSON.writeValueAsBytes(problem.json(words, instance)));
    }

    /** Words are the application's too, and whatever goes wrong with them is no reason to say nothing. */
    private Wording words() {
        try {
            return wording.get();
        } catch (RuntimeException unspoken) {
            LOG.error("There are no words for {}", request.getRequestURI(), unspoken);
            return Wording.english();
        }
    }

    private void write(String type, byte[] content) throws IOException {
        response.setContentType(type);
        response.getOutputStream().write(content);
    }
}
