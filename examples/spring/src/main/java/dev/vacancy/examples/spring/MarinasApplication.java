package dev.vacancy.examples.spring;

import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;

/** Skerrow Marinas. */
@SpringBootApplication
public class MarinasApplication {
    /**
     * Starts it.
     *
     * @param arguments properties, such as {@code --server.port=0}
     */
    public static void main(String[] arguments) {
        SpringApplication.run(MarinasApplication.class, arguments);
    }
}
