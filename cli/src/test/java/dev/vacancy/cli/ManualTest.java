package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.cli.terminal.Surroundings;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.asciidoctor.Asciidoctor;
import org.asciidoctor.Attributes;
import org.asciidoctor.Options;
import org.asciidoctor.SafeMode;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;
import picocli.codegen.docgen.manpage.ManPageGenerator;

/** The manual pages in {@code docs/manual} say what the commands say; {@code -Dvacancy.test.write=true} writes them anew. */
class ManualTest {
    private static final Path MANUAL = Path.of("../docs/manual");

    @TempDir
    Path folder;

    @Test
    void thePagesAreThoseOfTheCommands() throws Exception {
        List<Path> pages = pages();
        if (Boolean.getBoolean("vacancy.test.write")) {
            Files.createDirectories(MANUAL);
            for (Path page : pages) {
                Files.writeString(MANUAL.resolve(page.getFileName()), text(page));
            }
        }

        try (Stream<Path> kept = Files.list(MANUAL)) {
            assertThat(kept.map(Path::getFileName).map(Path::toString))
                    .containsExactlyInAnyOrderElementsOf(pages.stream()
                            .map(page -> page.getFileName().toString())
                            .toList());
        }
        for (Path page : pages) {
            assertThat(MANUAL.resolve(page.getFileName())).content().isEqualTo(text(page));
        }
    }

    private List<Path> pages() throws Exception {
        CommandLine commands = Main.commandLine(Surroundings.ofThisProcess());
        ManPageGenerator.generateManPage(folder.toFile(), null, new boolean[0], false, commands.getCommandSpec());
        List<Path> pages = new ArrayList<>();
        try (Asciidoctor asciidoctor = Asciidoctor.Factory.create();
                Stream<Path> sources = Files.list(folder)) {
            for (Path source : sources.filter(file -> file.toString().endsWith(".adoc"))
                    .sorted()
                    .toList()) {
                File page = new File(source.toString().replace(".adoc", ".1"));
                asciidoctor.convertFile(
                        source.toFile(),
                        Options.builder()
                                .backend("manpage")
                                .safe(SafeMode.UNSAFE)
                                .toFile(page)
                                .attributes(Attributes.builder()
                                        .attribute("docdate", "2026-11-26")
                                        .attribute("reproducible", "")
                                        .build())
                                .build());
                pages.add(page.toPath());
            }
        }
        return pages;
    }

    /** Who wrote the file isn't a part of what it says. */
    private static String text(Path page) throws Exception {
        return Files.readString(page).replaceAll("(?m)^\\.\\\\\" +Generator:.*\\n", "");
    }
}
