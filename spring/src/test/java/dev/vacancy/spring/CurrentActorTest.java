package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.springframework.security.authentication.AnonymousAuthenticationToken;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.authority.SimpleGrantedAuthority;
import org.springframework.security.core.context.SecurityContextHolder;

/** Who asks is whoever has signed in. */
class CurrentActorTest {
    private static final List<SimpleGrantedAuthority> ROLES = List.of(new SimpleGrantedAuthority("HARBOUR"));

    @AfterEach
    void signOut() {
        SecurityContextHolder.clearContext();
    }

    @Test
    void whoHasSignedInAsks() {
        SecurityContextHolder.getContext()
                .setAuthentication(UsernamePasswordAuthenticationToken.authenticated("una", null, ROLES));

        assertThat(CurrentActor.signedIn().by()).isEqualTo(By.user("una"));
    }

    @Test
    void nobodyIsNotTakenForSomebody() {
        CurrentActor actor = CurrentActor.signedIn();

        assertNobody(actor);
        SecurityContextHolder.getContext()
                .setAuthentication(new AnonymousAuthenticationToken("key", "anonymousUser", ROLES));
        assertNobody(actor);
        SecurityContextHolder.getContext()
                .setAuthentication(UsernamePasswordAuthenticationToken.unauthenticated("una", "secret"));
        assertNobody(actor);
    }

    @Test
    void anAuditorOfTheApplicationsIsTaken() {
        assertThat(CurrentActor.named(() -> Optional.of(17L)).by()).isEqualTo(By.user("17"));
        assertNobody(CurrentActor.named(Optional::empty));
        assertNobody(CurrentActor.named(() -> Optional.of(" ")));
    }

    private static void assertNobody(CurrentActor actor) {
        assertThatThrownBy(actor::by)
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.NO_ACTOR));
    }
}
