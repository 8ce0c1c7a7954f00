package dev.vacancy.examples.web;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.handler.ErrorHandler;
import org.eclipse.jetty.util.Callback;

/**
 * Says what the container refuses before any servlet sees it: to programs as a problem detail without a type of its own (RFC 9457, section 4.2.1), to
 * everybody without a word of what has happened inside.
 */
final class ProblemHandler extends ErrorHandler {
    ProblemHandler() {
        setShowStacks(false);
        setShowCauses(false);
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) {
        int status = response.getStatus() < HttpStatus.BAD_REQUEST_400
                ? HttpStatus.INTERNAL_SERVER_ERROR_500
                : response.getStatus();
        String title = HttpStatus.getMessage(status);
        boolean ofPrograms = request.getHttpURI().getPath().startsWith("/api/");
        response.setStatus(status);
        response.getHeaders()
                .put(HttpHeader.CONTENT_TYPE, ofPrograms ? "application/problem+json" : "text/plain;charset=UTF-8");
        String content = ofPrograms
                ? "{\"type\": \"about:blank\", \"title\": \"" + title + "\", \"status\": " + status + "}"
                : title;
        response.write(true, ByteBuffer.wrap(content.getBytes(StandardCharsets.UTF_8)), callback);
        return true;
    }
}
