package dev.vacancy.cli;

import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.Terminal;
import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/** The tool: in this virtual machine where that makes no difference, and else as a process of its own. */
final class Tool {
    private static final int LONGEST_RUN_SECONDS = 60;

    private Tool() {}

    /** What a run left behind. */
    record Result(int status, String out, String err) {}

    /** The command that starts the tool. */
    static List<String> command(String... arguments) {
        List<String> command = new ArrayList<>(ToolClasses.START);
        command.addAll(List.of(arguments));
        return command;
    }

    /** An environment without a password, unless one is given. */
    static Map<String, String> environment(Map<String, String> more) {
        Map<String, String> environment = new HashMap<>(System.getenv());
        environment.remove("VACANCY_PASSWORD");
        environment.putAll(more);
        return environment;
    }

    /** Runs the tool in this virtual machine, without a terminal; relative paths are relative to the folder. */
    static Result run(Path folder, String... arguments) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        int status = Main.run(
                new Surroundings(printTo(out), printTo(err), new Terminal.Nobody(), new Paint(false), folder),
                arguments);
        return new Result(status, text(out, folder), text(err, folder));
    }

    /** Paths as they were typed. */
    private static String text(ByteArrayOutputStream bytes, Path folder) {
        return bytes.toString(StandardCharsets.UTF_8).replace(folder + File.separator, "");
    }

    private static PrintStream printTo(ByteArrayOutputStream bytes) {
        return new PrintStream(bytes, true, StandardCharsets.UTF_8);
    }

    /** Runs the tool as a process that is started in a folder, without a terminal. */
    static Result process(Path folder, Map<String, String> environment, String... arguments) throws Exception {
        ProcessBuilder builder = new ProcessBuilder(command(arguments)).directory(folder.toFile());
        builder.environment().clear();
        builder.environment().putAll(environment(environment));
        Process process = builder.start();
        process.getOutputStream().close();
        CompletableFuture<String> out = CompletableFuture.supplyAsync(() -> text(process.getInputStream()));
        CompletableFuture<String> err = CompletableFuture.supplyAsync(() -> text(process.getErrorStream()));
        if (!process.waitFor(LONGEST_RUN_SECONDS, TimeUnit.SECONDS)) {
            process.destroyForcibly();
            throw new IllegalStateException("The tool didn't end: " + String.join(" ", arguments));
        }
        return new Result(process.exitValue(), out.get(), err.get());
    }

    static Result process(Path folder, String... arguments) throws Exception {
        return process(folder, Map.of(), arguments);
    }

    private static String text(java.io.InputStream stream) {
        try (stream) {
            return new String(stream.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException failure) {
            throw new java.io.UncheckedIOException(failure);
        }
    }
}
