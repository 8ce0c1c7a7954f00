package dev.vacancy.cli.terminal;

import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import picocli.CommandLine.Help.Ansi;

/**
 * What a command talks to.
 *
 * @param out results
 * @param err talk and progress
 * @param terminal the person, if there is one
 * @param paint how results are coloured
 * @param folder what relative paths are relative to; empty for the folder that this process was started in
 */
public record Surroundings(PrintStream out, PrintStream err, Terminal terminal, Paint paint, Path folder) {
    /** The streams and the terminal of this process. Text is UTF-8, whatever the locale says. */
    public static Surroundings ofThisProcess() {
        PrintStream out = new PrintStream(new FileOutputStream(FileDescriptor.out), true, StandardCharsets.UTF_8);
        PrintStream err = new PrintStream(new FileOutputStream(FileDescriptor.err), true, StandardCharsets.UTF_8);
        return new Surroundings(out, err, Terminal.ofThisProcess(err), new Paint(Ansi.AUTO.enabled()), Path.of(""));
    }

    /** The tool's name as the user has to type it. */
    public String toolName() {
        return System.getProperty("vacancy.command", "vacancy");
    }

    public PrintWriter outWriter() {
        return new PrintWriter(out, true, StandardCharsets.UTF_8);
    }

    public PrintWriter errWriter() {
        return new PrintWriter(err, true, StandardCharsets.UTF_8);
    }
}
