package dev.vacancy.spring;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.Optional;
import java.util.function.Supplier;
import org.springframework.security.authentication.AuthenticationTrustResolverImpl;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;

/**
 * Who is at work on this thread, as the application knows it already.
 *
 * <pre>{@code
 * vacancy.delete(Selection.of("berth").key(7), actor.by().because("sold"));
 * }</pre>
 *
 * @since 0.1
 */
@FunctionalInterface
public interface CurrentActor {
    /**
     * Says who it is.
     *
     * @return the user, without a reason
     * @throws InvalidRequestException when nobody is known ({@link FailureCode#NO_ACTOR})
     */
    By by();

    /**
     * Takes the user who has signed in by Spring Security. An anonymous one is nobody.
     *
     * @return tells the name of the authentication
     */
    static CurrentActor signedIn() {
        AuthenticationTrustResolverImpl trust = new AuthenticationTrustResolverImpl();
        return named(() -> {
            Authentication found = SecurityContextHolder.getContext().getAuthentication();
            return found == null || !found.isAuthenticated() || trust.isAnonymous(found)
                    ? Optional.empty()
                    : Optional.of(found.getName());
        });
    }

    /**
     * Takes whomever another part of the application names: the auditor of Spring Data, say.
     *
     * @param name tells the name; what it gives is turned into text
     * @return tells that name
     */
    static CurrentActor named(Supplier<? extends Optional<?>> name) {
        return () -> name.get()
                .map(String::valueOf)
                .filter(known -> !known.isBlank())
                .map(By::user)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.NO_ACTOR,
                        "Nobody has signed in, so nobody can be told to have asked for the deletion.",
                        "Sign in, or say who asks by By.user or By.program."));
    }
}
