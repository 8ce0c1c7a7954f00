package dev.vacancy.web;

import dev.vacancy.By;
import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;

/**
 * Says who sends a request. Authentication is the container's or the application's; without an actor every request is refused.
 *
 * <p>It is asked by each request's thread.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Actors {
    /**
     * Says who sends a request, and why.
     *
     * @param request the request
     * @return the actor; empty if nobody is known
     */
    Optional<By> of(HttpServletRequest request);
}
