package dev.vacancy;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.Architectures;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Gated;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The order of the packages: each may use those below it, never above. */
class ArchitectureTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("dev.vacancy");

    /** The rooms from the top of the house down. */
    private static final List<String> ROOMS = List.of(
            "dev.vacancy",
            "dev.vacancy.internal.chunking",
            "dev.vacancy.bulk",
            "dev.vacancy.internal.restoring",
            "dev.vacancy.internal.travelling",
            "dev.vacancy.internal.running",
            "dev.vacancy.internal.gate",
            "dev.vacancy.audit",
            "dev.vacancy.run",
            "dev.vacancy.confirm",
            "dev.vacancy.internal.planning",
            "dev.vacancy.plan",
            "dev.vacancy.internal.check",
            "dev.vacancy.check",
            "dev.vacancy.internal.trail",
            "dev.vacancy.rule",
            "dev.vacancy.internal.tables",
            "dev.vacancy.internal.condition",
            "dev.vacancy.criteria",
            "dev.vacancy.internal.schema",
            "dev.vacancy.internal.dialect",
            "dev.vacancy.catalog",
            "dev.vacancy.wording",
            "dev.vacancy.failure");

    @Test
    void eachRoomUsesOnlyThoseBelowIt() {
        Architectures.LayeredArchitecture house = layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : ROOMS) {
            house = house.layer(room).definedBy(room);
        }
        for (int i = 0; i < ROOMS.size(); i++) {
            Architectures.LayeredArchitecture.LayerDependencySpecification room = house.whereLayer(ROOMS.get(i));
            house = i == 0
                    ? room.mayNotBeAccessedByAnyLayer()
                    : room.mayOnlyBeAccessedByLayers(ROOMS.subList(0, i).toArray(String[]::new));
        }
        house.check(CORE);
    }

    @Test
    void everyClassLivesInOneOfTheRooms() {
        classes()
                .should()
                .resideInAnyPackage(
                        Stream.concat(ROOMS.stream(), Stream.of("dev.vacancy.demo..", "dev.vacancy.testing.."))
                                .toArray(String[]::new))
                .check(CORE);
    }

    @Test
    void theCoreTalksToNobody() {
        noClasses()
                .that()
                .resideOutsideOfPackages("dev.vacancy.demo..", "dev.vacancy.testing..")
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
                        "dev.vacancy.internal.dialect..", "dev.vacancy.demo..", "dev.vacancy.testing..")
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
