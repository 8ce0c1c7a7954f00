package dev.vacancy;

import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideOutsideOfPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.methods;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.Architectures;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Gated;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The order of the packages: each may use those below it, never above. */
class ArchitectureTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("dev.vacancy");

    /** What an application names. */
    private static final String[] SURFACE = {
        "dev.vacancy",
        "dev.vacancy.bulk",
        "dev.vacancy.catalog",
        "dev.vacancy.followup",
        "dev.vacancy.history",
        "dev.vacancy.rule",
        "dev.vacancy.retirement",
        "dev.vacancy.trace",
        "dev.vacancy.wording"
    };

    private static final Path TYPES = Path.of("src/test/resources/public-types.txt");

    private static final String DOOR = "dev.vacancy.internal.engine";

    /** What criteria and rules are made of. */
    private static final String REQUEST = "dev.vacancy.internal.request";

    /** The rooms of the engine from the top down. All of them use the values of the surface. */
    private static final List<String> ENGINE = List.of(
            DOOR,
            "dev.vacancy.internal.chunking",
            "dev.vacancy.internal.tracing",
            "dev.vacancy.internal.retiring",
            "dev.vacancy.internal.restoring",
            "dev.vacancy.internal.follow",
            "dev.vacancy.internal.running",
            "dev.vacancy.internal.gate",
            "dev.vacancy.internal.planning",
            "dev.vacancy.internal.store",
            "dev.vacancy.internal.check",
            "dev.vacancy.internal.trail",
            "dev.vacancy.internal.rules",
            "dev.vacancy.internal.tables",
            "dev.vacancy.internal.condition",
            "dev.vacancy.internal.schema",
            "dev.vacancy.internal.dialect",
            REQUEST,
            "dev.vacancy.internal.catalog",
            "dev.vacancy.internal.failure");

    @Test
    void eachRoomOfTheEngineUsesOnlyThoseBelowIt() {
        Architectures.LayeredArchitecture house = layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : ENGINE) {
            house = house.layer(room).definedBy(room);
        }
        for (int i = 0; i < ENGINE.size(); i++) {
            Architectures.LayeredArchitecture.LayerDependencySpecification room = house.whereLayer(ENGINE.get(i));
            house = i == 0
                    ? room.mayNotBeAccessedByAnyLayer()
                    : room.mayOnlyBeAccessedByLayers(ENGINE.subList(0, i).toArray(String[]::new));
        }
        house.check(CORE);
    }

    /** One arrow leads from the surface into the engine; besides, the factories of criteria and rules make what these are made of. */
    @Test
    void theSurfaceKnowsOfTheEngineOnlyItsDoor() {
        classes()
                .that()
                .resideInAnyPackage(SURFACE)
                .and()
                .resideOutsideOfPackages("dev.vacancy.internal..")
                .should()
                .onlyDependOnClassesThat(resideInAnyPackage(SURFACE)
                        .or(resideInAnyPackage(DOOR, REQUEST))
                        .or(resideOutsideOfPackage("dev.vacancy..")))
                .check(CORE);
        noClasses()
                .that()
                .resideInAnyPackage(SURFACE)
                .and()
                .doNotHaveSimpleName("Vacancy")
                .and()
                .doNotHaveSimpleName("Ddl")
                .should()
                .dependOnClassesThat()
                .resideInAPackage(DOOR)
                .check(CORE);
    }

    /**
     * Whatever is public can't be taken back after a release, so a new type is entered in the list on purpose: {@code
     * -Dvacancy.test.write=true} writes it.
     */
    @Test
    void thePublicTypesAreThoseOfTheList() throws IOException {
        List<String> types = CORE.stream()
                .filter(resideInAnyPackage(SURFACE))
                .filter(type -> type.reflect()
                        .getProtectionDomain()
                        .getCodeSource()
                        .getLocation()
                        .getPath()
                        .contains("/core/"))
                .filter(ArchitectureTest::isPublic)
                .map(JavaClass::getName)
                .sorted()
                .toList();
        if (Boolean.getBoolean("vacancy.test.write")) {
            Files.write(TYPES, types);
        }

        assertThat(types).isEqualTo(Files.readAllLines(TYPES));
    }

    private static boolean isPublic(JavaClass type) {
        return type.getModifiers().contains(JavaModifier.PUBLIC)
                && type.getEnclosingClass().map(ArchitectureTest::isPublic).orElse(true);
    }

    /** Such a method could be called from Kotlin in backticks only (Kotlin's grammar, hard keywords). */
    @Test
    void noPublicMethodIsAKeywordOfKotlin() {
        methods()
                .that()
                .areDeclaredInClassesThat()
                .resideInAnyPackage(SURFACE)
                .and()
                .arePublic()
                .should()
                .haveNameNotMatching("as|do|fun|in|interface|is|null|object|package|typealias|typeof|val|var|when")
                .check(CORE);
    }

    @Test
    void everyClassLivesInOneOfTheRooms() {
        classes()
                .should()
                .resideInAnyPackage(Stream.of(
                                Stream.of(SURFACE),
                                ENGINE.stream(),
                                Stream.of("dev.vacancy.demo..", "dev.vacancy.databases..", "dev.vacancy.testing.."))
                        .flatMap(rooms -> rooms)
                        .toArray(String[]::new))
                .check(CORE);
    }

    @Test
    void theCoreTalksToNobody() {
        noClasses()
                .that()
                .resideOutsideOfPackages("dev.vacancy.demo..", "dev.vacancy.databases..", "dev.vacancy.testing..")
                .should()
                .accessField(System.class, "out")
                .orShould()
                .accessField(System.class, "err")
                .orShould()
                .callMethod(System.class, "console")
                .check(CORE);
    }

    @Test
    void onlyTheDialectsKnowADatabase() {
        noClasses()
                .that()
                .resideOutsideOfPackages(
                        "dev.vacancy.internal.dialect..",
                        "dev.vacancy.demo..",
                        "dev.vacancy.databases..",
                        "dev.vacancy.testing..")
                .should()
                .callMethod(java.sql.DatabaseMetaData.class, "getDatabaseProductName")
                .check(CORE);
    }

    /** Whatever changes records asks for proof, and only the gate gives one: a way in that passes it by has nothing to show. */
    @Test
    void onlyTheGateGivesTheProofThatAPlanMayBeCarriedOut() {
        noClasses()
                .that()
                .resideOutsideOfPackage("dev.vacancy.internal.gate")
                .should()
                .callConstructor(Passage.class, Gated.class, Optional.class)
                .check(CORE);
        classes()
                .that()
                .haveSimpleName("Execution")
                .or()
                .haveSimpleName("Emptier")
                .or()
                .haveSimpleName("Restoration")
                .should()
                .dependOnClassesThat()
                .areAssignableTo(Passage.class)
                .check(CORE);
    }
}
