package dev.vacancy.cli.verbs;

import dev.vacancy.JsonForm;
import dev.vacancy.Vacancy;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.FilesOption;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.FollowUpText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.handlers.EventPost;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Looks at what follows runs outside of the database, and has it handled. */
@Command(
        name = "follow-ups",
        mixinStandardHelpOptions = true,
        description =
                "List what follows runs outside of the database and wasn't handled yet; show one, send it again or give it"
                        + " up; or handle what is due.",
        footer = {"", "Exit status: 6 if something couldn't be handled."})
public final class FollowUpsCommand extends DatabaseCommand {
    private static final int MOST_SHOWN = 100;
    private static final int MOST_SOUGHT = 10_000;
    private static final int LEAST_SECRET = 32;
    private static final Duration LOOKING_EVERY = Duration.ofSeconds(1);

    /** What to do with messages. */
    enum Action {
        /** Those that were not handled yet. */
        LIST,
        /** One of them. */
        SHOW,
        /** Hands one over again at once. */
        AGAIN,
        /** Has nobody handle one. */
        GIVE_UP,
        /** Handles what is due. */
        WORK
    }

    @Parameters(
            index = "0",
            arity = "0..1",
            paramLabel = "ACTION",
            defaultValue = "list",
            description = "list, show, again, give-up or work; list if left out.")
    private String action;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "MESSAGE",
            description = "The message's id, or the beginning of it.")
    private String message;

    @Mixin
    private FilesOption files;

    @Option(
            names = "--post",
            paramLabel = "NAME=URL",
            description = "The follow-up NAME is sent to an address, as CloudEvents.")
    private Map<String, URI> posts = new LinkedHashMap<>();

    @Option(
            names = "--sign-with",
            paramLabel = "VARIABLE",
            description =
                    "The environment variable whose value signs what is posted (RFC 9421), 32 characters or more.")
    private String secretVariable;

    @Option(names = "--stay", description = "With work: don't end when nothing is left, but wait for what comes.")
    private boolean stay;

    public FollowUpsCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        return switch (action()) {
            case LIST -> list(session.vacancy().followUps());
            case SHOW -> show(found(session.vacancy().followUps()));
            case AGAIN -> again(session.vacancy().followUps());
            case GIVE_UP -> giveUp(session.vacancy().followUps());
            case WORK -> work(handling(session.vacancy()).followUps());
        };
    }

    private Action action() {
        try {
            return Action.valueOf(action.toUpperCase(Locale.ROOT).replace('-', '_'));
        } catch (IllegalArgumentException unknown) {
            throw ToolException.wrongUsage(
                    "There is no action '" + action + "'.", "Say list, show, again, give-up or work.");
        }
    }

    private int list(FollowUps followUps) {
        List<FollowUpMessage> messages = followUps.list(MOST_SHOWN);
        print(json() ? JsonText.write(messages.stream().map(JsonForm::of).toList()) : FollowUpText.of(messages));
        long all = followUps.count(FollowUpState.OPEN) + followUps.count(FollowUpState.FAILED);
        if (all > messages.size()) {
            say("There are " + all + "; these are the first.");
        }
        return ExitStatus.DONE;
    }

    private int show(FollowUpMessage shown) {
        print(json() ? JsonText.write(JsonForm.of(shown)) : FollowUpText.of(shown));
        return ExitStatus.DONE;
    }

    private int again(FollowUps followUps) {
        UUID id = found(followUps).id();
        followUps.again(id);
        return show(followUps.find(id));
    }

    private int giveUp(FollowUps followUps) {
        FollowUpMessage lost = found(followUps);
        followUps.giveUp(lost.id());
        say("Nobody handles message " + lost.id() + " any more.");
        return ExitStatus.DONE;
    }

    private FollowUpMessage found(FollowUps followUps) {
        if (message == null) {
            throw ToolException.wrongUsage(
                    "Nothing says which message to " + action + ".", "Give its id, or the beginning of it.");
        }
        List<FollowUpMessage> found = followUps.list(MOST_SOUGHT).stream()
                .filter(each -> each.id().toString().startsWith(message.toLowerCase(Locale.ROOT)))
                .toList();
        if (found.size() != 1) {
            throw ToolException.wrongUsage(
                    (found.isEmpty() ? "No message begins" : found.size() + " messages begin") + " with '" + message
                            + "'.",
                    "'follow-ups' lists them.");
        }
        return found.get(0);
    }

    private Vacancy handling(Vacancy vacancy) {
        if (names().isEmpty()) {
            throw ToolException.wrongUsage(
                    "Nothing says how to handle what follows.", "Give --files NAME=FOLDER or --post NAME=URL.");
        }
        Vacancy handled = files.addTo(vacancy, surroundings().folder());
        for (Map.Entry<String, URI> post : posts.entrySet()) {
            handled = handled.withFollowUp(post.getKey(), post(post.getValue()));
        }
        return handled;
    }

    private Set<String> names() {
        Set<String> names = new LinkedHashSet<>(files.names());
        names.addAll(posts.keySet());
        return names;
    }

    private FollowUpHandler post(URI address) {
        if (address.getHost() == null || !List.of("http", "https").contains(address.getScheme())) {
            throw ToolException.wrongUsage(
                    "Nothing can be posted to '" + address + "'.", "Give an address that begins with http or https.");
        }
        EventPost post = EventPost.to(address, URI.create("/vacancy"));
        if (secretVariable == null) {
            return post;
        }
        String secret = System.getenv(secretVariable);
        if (secret == null || secret.length() < LEAST_SECRET) {
            throw ToolException.wrongUsage(
                    "The environment variable " + secretVariable + " holds no secret of " + LEAST_SECRET
                            + " characters.",
                    "Set it, or leave --sign-with out.");
        }
        return post.signedWith("vacancy", secret.getBytes(StandardCharsets.UTF_8));
    }

    private int work(FollowUps followUps) {
        if (stay) {
            say("Handling what is there and what comes; Ctrl-C ends it.");
        }
        long handled = followUps.work();
        while (stay && !Thread.currentThread().isInterrupted()) {
            rest();
            handled += followUps.work();
        }
        List<FollowUpMessage> left = followUps.list(MOST_SHOWN).stream()
                .filter(each -> names().contains(each.followUp()))
                .toList();
        if (json()) {
            Map<String, Object> form = new LinkedHashMap<>();
            form.put("handled", handled);
            form.put("left", left.stream().map(JsonForm::of).collect(Collectors.toList()));
            print(JsonText.write(form));
        } else {
            print(handled + (handled == 1 ? " message was" : " messages were") + " handled.");
            if (!left.isEmpty()) {
                print(FollowUpText.of(left));
            }
        }
        return left.isEmpty() ? ExitStatus.DONE : ExitStatus.SOME_FAILED;
    }

    private static void rest() {
        try {
            TimeUnit.MILLISECONDS.sleep(LOOKING_EVERY.toMillis());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
