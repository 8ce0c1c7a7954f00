package dev.vacancy.cli;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The rooms of the tool know only those below them. */
class RoomsTest {
    private static final String TOOL = "dev.vacancy.cli";
    private static final JavaClasses CLASSES = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages(TOOL);

    @Test
    void eachRoomKnowsOnlyThoseBelowIt() {
        layeredArchitecture()
                .consideringOnlyDependenciesInLayers()
                .layer("start")
                .definedBy(TOOL)
                .layer("verbs")
                .definedBy(TOOL + ".verbs")
                .layer("demo")
                .definedBy(TOOL + ".demo")
                .layer("asking")
                .definedBy(TOOL + ".asking")
                .layer("showing")
                .definedBy(TOOL + ".showing")
                .layer("selecting")
                .definedBy(TOOL + ".selecting")
                .layer("configuration")
                .definedBy(TOOL + ".configuration")
                .layer("terminal")
                .definedBy(TOOL + ".terminal")
                .whereLayer("start")
                .mayNotBeAccessedByAnyLayer()
                .whereLayer("verbs")
                .mayOnlyBeAccessedByLayers("start")
                .whereLayer("demo")
                .mayOnlyBeAccessedByLayers("start")
                .whereLayer("asking")
                .mayOnlyBeAccessedByLayers("verbs")
                .whereLayer("showing")
                .mayOnlyBeAccessedByLayers("verbs", "asking")
                .whereLayer("selecting")
                .mayOnlyBeAccessedByLayers("verbs", "asking")
                .whereLayer("configuration")
                .mayOnlyBeAccessedByLayers("start", "verbs", "asking")
                .check(CLASSES);
    }
}
