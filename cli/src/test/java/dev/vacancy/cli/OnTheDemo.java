package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.Error;
import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Gives each test a copy of the demo's database and configuration, in a folder of its own. */
abstract class OnTheDemo {
    @TempDir
    Path folder;

    @BeforeEach
    void copyTheDemo() throws Exception {
        DemoDatabase.copyTo(folder);
    }

    /** What a program reads; it is as the published schema says. */
    final JsonNode json(int status, String... arguments) throws Exception {
        String[] command = Arrays.copyOf(arguments, arguments.length + 2);
        command[arguments.length] = "--output";
        command[arguments.length + 1] = "json";
        Tool.Result result = Tool.run(folder, command);
        assertThat(result.status()).as(result.err()).isEqualTo(status);
        assertThat(schema().validate(result.out(), InputFormat.JSON))
                .as(result.out())
                .map(Error::toString)
                .isEmpty();
        return JsonMapper.shared().readTree(result.out());
    }

    private static Schema schema() throws Exception {
        return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                .getSchema(Files.readString(Path.of("../docs/output.schema.json")), InputFormat.JSON);
    }
}
