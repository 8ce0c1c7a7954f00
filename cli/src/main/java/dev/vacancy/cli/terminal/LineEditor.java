package dev.vacancy.cli.terminal;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Optional;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.terminal.TerminalBuilder;

/** A line of input that can be edited, with those before at the arrow keys. */
public final class LineEditor implements AutoCloseable {
    private final org.jline.terminal.Terminal terminal;
    private final LineReader reader;

    private LineEditor(org.jline.terminal.Terminal terminal) {
        this.terminal = terminal;
        this.reader = LineReaderBuilder.builder()
                .terminal(terminal)
                .option(LineReader.Option.DISABLE_EVENT_EXPANSION, true)
                .option(LineReader.Option.BRACKETED_PASTE, false)
                .build();
    }

    public static LineEditor open() {
        try {
            return new LineEditor(
                    TerminalBuilder.builder().system(true).dumb(true).build());
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /**
     * Asks for a line.
     *
     * @return the line; empty when there is no more, or at Ctrl-C
     */
    public Optional<String> read(String prompt) {
        try {
            return Optional.of(reader.readLine(prompt));
        } catch (EndOfFileException | UserInterruptException end) {
            return Optional.empty();
        }
    }

    @Override
    public void close() {
        try {
            terminal.close();
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }
}
