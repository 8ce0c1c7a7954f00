package dev.vacancy.cli;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** Gives each test a copy of the demo's database and configuration, in a folder of its own. */
abstract class OnTheDemo {
    @TempDir
    Path folder;

    @BeforeEach
    void copyTheDemo() throws Exception {
        DemoDatabase.copyTo(folder);
    }
}
