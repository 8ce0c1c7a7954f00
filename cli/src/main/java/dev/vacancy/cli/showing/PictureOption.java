package dev.vacancy.cli.showing;

import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.ToolException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Supplier;
import picocli.CommandLine.Option;

/** Where to draw a picture to, if anywhere. */
public final class PictureOption {
    @Option(
            names = "--picture",
            paramLabel = "FILE.svg",
            description = "Draw it too, as Scalable Vector Graphics; an existing file is replaced.")
    private Path file;

    /** Draws the picture if one is asked for. */
    public void draw(Supplier<String> picture) {
        if (file == null) {
            return;
        }
        if (!file.toString().endsWith(".svg")) {
            throw ToolException.wrongUsage(
                    "The picture '" + file + "' would be SVG, but its name doesn't say so.",
                    "Give it a name that ends with .svg.");
        }
        try {
            Files.writeString(file, picture.get());
        } catch (IOException failure) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The picture can't be written to '" + file + "'.",
                    "Name a file in a folder that is there and may be written to.",
                    failure);
        }
    }
}
