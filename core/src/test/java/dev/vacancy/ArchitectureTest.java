package dev.vacancy;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The order of the packages: each may use those below it, never above. */
class ArchitectureTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("dev.vacancy");

    @Test
    void everyPackageUsesOnlyThoseBelowIt() {
        layeredArchitecture()
                .consideringOnlyDependenciesInLayers()
                .layer("entry")
                .definedBy("dev.vacancy")
                .layer("run")
                .definedBy("dev.vacancy.run..")
                .layer("confirm")
                .definedBy("dev.vacancy.confirm..")
                .layer("plan")
                .definedBy("dev.vacancy.plan..")
                .layer("check")
                .definedBy("dev.vacancy.check..")
                .layer("rule")
                .definedBy("dev.vacancy.rule..")
                .layer("criteria")
                .definedBy("dev.vacancy.criteria..")
                .layer("catalog")
                .definedBy("dev.vacancy.catalog..")
                .layer("dialect")
                .definedBy("dev.vacancy.dialect..")
                .layer("failure")
                .definedBy("dev.vacancy.failure..")
                .whereLayer("entry")
                .mayNotBeAccessedByAnyLayer()
                .whereLayer("run")
                .mayOnlyBeAccessedByLayers("entry")
                .whereLayer("confirm")
                .mayOnlyBeAccessedByLayers("entry", "run")
                .whereLayer("check")
                .mayOnlyBeAccessedByLayers("entry")
                .whereLayer("plan")
                .mayOnlyBeAccessedByLayers("entry", "run", "confirm")
                .whereLayer("rule")
                .mayOnlyBeAccessedByLayers("entry", "run", "confirm", "check", "plan")
                .whereLayer("criteria")
                .mayOnlyBeAccessedByLayers("entry", "run", "confirm", "check", "plan", "rule")
                .whereLayer("catalog")
                .mayOnlyBeAccessedByLayers("entry", "run", "confirm", "check", "plan", "rule", "criteria")
                .whereLayer("dialect")
                .mayOnlyBeAccessedByLayers("entry", "run", "confirm", "check", "plan", "rule", "criteria", "catalog")
                .check(CORE);
    }

    @Test
    void theCoreTalksToNobody() {
        noClasses()
                .that()
                .resideOutsideOfPackage("dev.vacancy.demo..")
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
                .resideOutsideOfPackages("dev.vacancy.dialect..", "dev.vacancy.demo..")
                .should()
                .callMethod(java.sql.DatabaseMetaData.class, "getDatabaseProductName")
                .check(CORE);
    }
}
