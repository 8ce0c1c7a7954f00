package dev.vacancy.spring.boot;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.spring.VacancyProblemHandler;
import dev.vacancy.web.Actors;
import dev.vacancy.web.DeletionServlet;
import dev.vacancy.web.WebOptions;
import jakarta.servlet.http.HttpServletRequest;
import java.security.Principal;
import java.util.Optional;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.boot.autoconfigure.condition.ConditionalOnWebApplication;
import org.springframework.boot.web.servlet.ServletRegistrationBean;
import org.springframework.context.annotation.Bean;
import org.springframework.web.bind.annotation.RestControllerAdvice;

/**
 * Answers what Vacancy throws in controllers as problem details, and offers its own resources where {@code vacancy.web.path} says so.
 *
 * @since 0.1
 */
@AutoConfiguration(after = VacancyAutoConfiguration.class)
@ConditionalOnWebApplication(type = ConditionalOnWebApplication.Type.SERVLET)
@ConditionalOnClass(RestControllerAdvice.class)
@ConditionalOnBean(Vacancy.class)
public class VacancyWebAutoConfiguration {
    /** Made by Spring. */
    VacancyWebAutoConfiguration() {}

    @Bean
    @ConditionalOnMissingBean
    VacancyProblemHandler vacancyProblemHandler() {
        return new VacancyProblemHandler();
    }

    @Bean
    @ConditionalOnProperty("vacancy.web.path")
    ServletRegistrationBean<DeletionServlet> vacancyResources(
            Vacancy vacancy,
            VacancyProperties properties,
            ObjectProvider<Actors> actors,
            ObjectProvider<Permissions> permissions,
            ObjectProvider<WebOptions> options) {
        Permissions allowed = permissions.getIfAvailable();
        if (allowed == null) {
            throw new InvalidRequestException(
                    FailureCode.FORBIDDEN,
                    "Resources stand at " + properties.web().path() + ", and nobody says who may do what there.",
                    "Make a bean of the type dev.vacancy.Permissions, or leave vacancy.web.path out.");
        }
        DeletionServlet servlet = new DeletionServlet(
                vacancy,
                properties.web().tables(),
                actors.getIfAvailable(() -> VacancyWebAutoConfiguration::principal),
                allowed,
                SigningKeys.of(properties.web()).added(options.getIfAvailable(WebOptions::defaults)));
        return new ServletRegistrationBean<>(
                servlet, path(String.valueOf(properties.web().path())) + "/*");
    }

    private static String path(String given) {
        String path = given.strip().replaceAll("/+$", "");
        if (!path.startsWith("/") || path.contains("*")) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Nothing can stand at '" + given + "', which vacancy.web.path says.",
                    "Begin it with a slash and name a folder, such as /deletions.");
        }
        return path;
    }

    /** Whoever the container, or a filter in front, takes the request to be from. */
    private static Optional<By> principal(HttpServletRequest request) {
        return Optional.ofNullable(request.getUserPrincipal())
                .map(Principal::getName)
                .map(By::user);
    }
}
