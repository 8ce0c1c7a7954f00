package dev.vacancy.examples.spring;

import dev.vacancy.By;
import dev.vacancy.Permissions;
import java.util.Map;
import java.util.OptionalInt;
import java.util.stream.Stream;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.config.Customizer;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.userdetails.User;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.provisioning.InMemoryUserDetailsManager;
import org.springframework.security.web.SecurityFilterChain;

/** Who works for the marinas, and who may delete what: harbour masters in their own harbour, the head office everywhere. */
@Configuration(proxyBeanMethods = false)
public class People {
    /** The harbour of each harbour master. */
    private static final Map<String, Integer> MASTERS = Map.of("una", 1, "tam", 2);

    private static final String HEAD_OFFICE = "isla";

    /**
     * Tells where somebody works.
     *
     * @param name who
     * @return the harbour's id; empty for the head office
     */
    static OptionalInt harbourOf(String name) {
        return MASTERS.containsKey(name) ? OptionalInt.of(MASTERS.get(name)) : OptionalInt.empty();
    }

    @Bean
    Permissions permissions() {
        Permissions byTable = (by, action, table) -> isHeadOffice(by)
                || action == Permissions.Action.SEE
                || (MASTERS.containsKey(by.actor()) && !table.equals("harbour"));
        return byTable.ofRecords((by, action, table, values) -> isHeadOffice(by)
                || !values.containsKey("harbour_id")
                || values.get("harbour_id").equals(MASTERS.get(by.actor())));
    }

    private static boolean isHeadOffice(By by) {
        return by.actor().equals(HEAD_OFFICE);
    }

    /** Passwords of an example: each is the name. */
    @Bean
    UserDetailsService users() {
        return new InMemoryUserDetailsManager(Stream.concat(MASTERS.keySet().stream(), Stream.of(HEAD_OFFICE))
                .map(name -> User.withUsername(name)
                        .password("{noop}" + name)
                        .roles("STAFF")
                        .build())
                .toList());
    }

    @Bean
    SecurityFilterChain security(HttpSecurity http) throws Exception {
        return http.authorizeHttpRequests(requests -> requests.anyRequest().authenticated())
                .formLogin(Customizer.withDefaults())
                .httpBasic(Customizer.withDefaults())
                .build();
    }
}
