package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaAccess;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.ResourceBundle;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Whoever makes a native image is told all that is looked up by its name: there is no more of that than the hints say. */
class NativeHintsTest {
    private static final String HINTS = "/META-INF/native-image/dev.vacancy/vacancy-core/reachability-metadata.json";
    private static final Pattern TYPES = Pattern.compile("\"((?:dev|java)\\.[^\"]+)\"");
    private static final Set<String> BY_NAME = Set.of(
            "forName",
            "newProxyInstance",
            "getBundle",
            "getResource",
            "getResourceAsStream",
            "getDeclaredConstructor",
            "getDeclaredMethod",
            "getMethod",
            "getDeclaredField",
            "getField");
    private static final List<String> LOOKING =
            List.of("java.lang.Class", "java.lang.ClassLoader", "java.lang.reflect.Proxy", "java.util.ResourceBundle");

    @Test
    void onlyTheWordsAndTheLentConnectionAreLookedUpByName() {
        Set<String> found = new ClassFileImporter()
                .importPath("target/classes").stream()
                        .flatMap(type -> type.getAccessesFromSelf().stream())
                        .filter(access ->
                                LOOKING.contains(access.getTargetOwner().getName()))
                        .filter(access -> BY_NAME.contains(access.getName()))
                        .map(JavaAccess::getOriginOwner)
                        .map(JavaClass::getSimpleName)
                        .filter(name -> !name.isEmpty())
                        .collect(Collectors.toSet());

        assertThat(found).containsExactlyInAnyOrder("Wording", "LentConnection");
    }

    @Test
    void theHintsNameWhatIsThere() throws IOException {
        String hints;
        try (InputStream file = NativeHintsTest.class.getResourceAsStream(HINTS)) {
            hints = new String(file.readAllBytes(), StandardCharsets.UTF_8);
        }

        assertThat(TYPES.matcher(hints).results().map(type -> type.group(1)))
                .containsExactly("dev.vacancy.wording.Words", "java.sql.Connection");
        assertThat(ResourceBundle.getBundle("dev.vacancy.wording.Words", Locale.GERMAN)
                        .getLocale())
                .isEqualTo(Locale.GERMAN);
    }
}
