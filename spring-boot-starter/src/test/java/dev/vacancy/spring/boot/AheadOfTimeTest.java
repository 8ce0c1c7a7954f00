package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.Map;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.aot.generate.ClassNameGenerator;
import org.springframework.aot.generate.DefaultGenerationContext;
import org.springframework.aot.generate.GeneratedFiles.Kind;
import org.springframework.aot.generate.InMemoryGeneratedFiles;
import org.springframework.boot.autoconfigure.ImportAutoConfiguration;
import org.springframework.context.annotation.AnnotationConfigApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.aot.ApplicationContextAotGenerator;
import org.springframework.core.env.MapPropertySource;
import org.springframework.javapoet.ClassName;

/** What the starter adds can be made ahead of time, as a native image needs it. */
class AheadOfTimeTest {
    @Configuration(proxyBeanMethods = false)
    @ImportAutoConfiguration({
        VacancyAutoConfiguration.class,
        VacancyEndpointAutoConfiguration.class,
        VacancyHealthAutoConfiguration.class,
        VacancyMetricsAutoConfiguration.class,
        VacancyObservationAutoConfiguration.class,
        VacancyScheduleAutoConfiguration.class
    })
    static class Application {
        private static final Database DATABASE = Engine.H2.database();

        @Bean
        DataSource source() {
            return DATABASE.source();
        }
    }

    @Test
    void beansAreMadeAheadOfTime() {
        AnnotationConfigApplicationContext context = new AnnotationConfigApplicationContext();
        context.getEnvironment()
                .getPropertySources()
                .addFirst(new MapPropertySource("application", Map.of("vacancy.worker", "true")));
        context.register(Application.class);
        InMemoryGeneratedFiles files = new InMemoryGeneratedFiles();
        DefaultGenerationContext generation = new DefaultGenerationContext(
                new ClassNameGenerator(ClassName.get("dev.vacancy.spring.boot", "Made")), files);

        new ApplicationContextAotGenerator().processAheadOfTime(context, generation);
        generation.writeGeneratedContent();

        assertThat(files.getGeneratedFiles(Kind.SOURCE).keySet())
                .anyMatch(name -> name.endsWith("VacancyAutoConfiguration__BeanDefinitions.java"))
                .anyMatch(name -> name.endsWith("VacancyScheduleAutoConfiguration__BeanDefinitions.java"));
        assertThat(generation.getRuntimeHints().reflection().typeHints())
                .anyMatch(hint -> hint.getType().getSimpleName().equals("VacancyProperties"));
    }
}
