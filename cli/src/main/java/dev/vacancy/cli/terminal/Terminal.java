package dev.vacancy.cli.terminal;

import java.io.Console;
import java.io.PrintStream;
import java.util.Optional;

/** The person at the terminal. */
public interface Terminal {
    /**
     * Puts a question on standard error and waits for a line.
     *
     * @return the line, or nothing when there is no person or the input ends
     */
    Optional<String> ask(String question);

    /** The same for a secret, which isn't shown while it is typed. */
    Optional<char[]> askSecret(String question);

    /** Tells whether there is somebody to ask. */
    boolean isThere();

    /** Finds the terminal; there is one only if both input and output are connected to it. */
    @SuppressWarnings("SystemConsoleNull") // Main asks for the behaviour before Java 22
    static Terminal ofThisProcess(PrintStream err) {
        Console console = System.console();
        return console == null ? new Nobody() : new Person(console, err);
    }

    /** Input or output is a file, a pipe or nothing. */
    final class Nobody implements Terminal {
        @Override
        public Optional<String> ask(String question) {
            return Optional.empty();
        }

        @Override
        public Optional<char[]> askSecret(String question) {
            return Optional.empty();
        }

        @Override
        public boolean isThere() {
            return false;
        }
    }

    /** Somebody who reads the screen and types. */
    record Person(Console console, PrintStream err) implements Terminal {
        @Override
        public Optional<String> ask(String question) {
            err.print(question);
            err.flush();
            return Optional.ofNullable(console.readLine());
        }

        @Override
        public Optional<char[]> askSecret(String question) {
            // The console asks by itself, after it has stopped showing what is typed.
            return Optional.ofNullable(console.readPassword("%s", question));
        }

        @Override
        public boolean isThere() {
            return true;
        }
    }
}
