package dev.vacancy.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/** The real tool, run as a process of its own. */
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

    /** Runs the tool in a folder, without a terminal. */
    static Result run(Path folder, Map<String, String> environment, String... arguments) throws Exception {
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

    static Result run(Path folder, String... arguments) throws Exception {
        return run(folder, Map.of(), arguments);
    }

    private static String text(java.io.InputStream stream) {
        try (stream) {
            return new String(stream.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException failure) {
            throw new java.io.UncheckedIOException(failure);
        }
    }
}
