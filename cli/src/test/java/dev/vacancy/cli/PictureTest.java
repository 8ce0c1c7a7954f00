package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.geom.Rectangle2D;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;

/** The pictures, read back as the XML that they are. */
class PictureTest {
    @TempDir
    private Path folder;

    @Test
    void theMapShowsEveryTableAndLinkOnOneScreen() throws Exception {
        DemoDatabase.copyTo(folder);

        Tool.Result map = Tool.run(folder, "map", "--picture", "map.svg");

        assertThat(map.status()).as(map.err()).isZero();
        Document picture = read("map.svg");
        assertThat(boxes(picture)).hasSize(13);
        assertThat(picture.getElementsByTagName("polyline").getLength()).isEqualTo(17);
        assertThat(texts(picture)).contains("hive", "batch_hive", "block or cascade", "hive_no", "reassign");
        assertApart(picture);
        assertThat(width(picture)).isLessThanOrEqualTo(1280);
        assertThat(height(picture)).isLessThanOrEqualTo(800);
    }

    @Test
    void aPlanShowsWhatGoesWhatStaysAndWhatForbidsItWithNumbers() throws Exception {
        DemoDatabase.copyTo(folder);

        Tool.Result preview = Tool.run(folder, "preview", "apiary", "--key", "1", "--picture", "plan.svg");

        assertThat(preview.status()).isEqualTo(3);
        Document picture = read("plan.svg");
        assertThat(texts(picture))
                .contains("Deleting apiary 1 'Fellside' is forbidden")
                .contains("4,500 records would go", "6 records would stay:", "photo.apiary_no is set to null")
                .contains("9 records forbid it:", "a sold batch must stay traceable");
        assertApart(picture);
        assertThat(width(picture)).isLessThanOrEqualTo(1280);
    }

    @Test
    void aTraceShowsWhatIsKnownOfAPerson() throws Exception {
        DemoDatabase.copyTo(folder);

        Tool.Result trace = Tool.run(folder, "trace", "keeper", "--key", "3", "--picture", "trace.svg");

        assertThat(trace.status()).as(trace.err()).isZero();
        Document picture = read("trace.svg");
        assertThat(texts(picture))
                .contains("What is known of keeper 3 'Hesper Quill'", "keeper 3", "1 deleted")
                .contains("apiary_keeper", "keeper_id", "17 detached", "inspection.note", "1 masked", "text");
        assertThat(boxes(picture)).hasSize(5);
        assertApart(picture);
        assertThat(width(picture)).isLessThanOrEqualTo(1280);
    }

    @Test
    void fortyTablesStayApart() throws Exception {
        String url = "jdbc:sqlite:" + folder.resolve("forty.db");
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            for (int i = 0; i < 40; i++) {
                String links = i == 0
                        ? ""
                        : ", hive_id integer references part_" + (i - 1) / 3 + ", old_id integer references part_"
                                + i / 2;
                statement.execute("create table part_" + i + " (part_id integer primary key" + links + ")");
            }
        }
        Files.writeString(folder.resolve("vacancy.yaml"), "database:\n  url: jdbc:sqlite:{folder}/forty.db\n");

        Tool.Result map = Tool.run(folder, "map", "--picture", "map.svg");

        assertThat(map.status()).as(map.err()).isZero();
        Document picture = read("map.svg");
        assertThat(boxes(picture)).hasSize(40);
        assertThat(picture.getElementsByTagName("polyline").getLength()).isEqualTo(78);
        assertApart(picture);
    }

    @Test
    void aNameThatDoesntSaySvgIsRefused() throws Exception {
        DemoDatabase.copyTo(folder);

        Tool.Result map = Tool.run(folder, "map", "--picture", "map.png");

        assertThat(map.status()).isEqualTo(2);
        assertThat(map.err()).contains("'map.png'", "ends with .svg");
    }

    private Document read(String name) throws Exception {
        return DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(folder.resolve(name).toFile());
    }

    /** No box covers another or leaves the picture. */
    private static void assertApart(Document picture) {
        List<Rectangle2D> boxes = boxes(picture);
        Rectangle2D whole = new Rectangle2D.Double(0, 0, width(picture), height(picture));
        for (Rectangle2D box : boxes) {
            assertThat(whole.contains(box)).isTrue();
            assertThat(boxes).filteredOn(other -> other.intersects(box)).hasSize(1);
        }
    }

    private static List<Rectangle2D> boxes(Document picture) {
        List<Rectangle2D> boxes = new ArrayList<>();
        for (Element rectangle : elements(picture, "rect")) {
            if (rectangle.hasAttribute("rx")) {
                boxes.add(new Rectangle2D.Double(
                        number(rectangle, "x"),
                        number(rectangle, "y"),
                        number(rectangle, "width"),
                        number(rectangle, "height")));
            }
        }
        return boxes;
    }

    private static List<String> texts(Document picture) {
        return elements(picture, "text").stream().map(Element::getTextContent).toList();
    }

    private static List<Element> elements(Document picture, String name) {
        NodeList nodes = picture.getElementsByTagName(name);
        List<Element> elements = new ArrayList<>();
        for (int i = 0; i < nodes.getLength(); i++) {
            elements.add((Element) nodes.item(i));
        }
        return elements;
    }

    private static double width(Document picture) {
        return number(picture.getDocumentElement(), "width");
    }

    private static double height(Document picture) {
        return number(picture.getDocumentElement(), "height");
    }

    private static double number(Element element, String attribute) {
        return Double.parseDouble(element.getAttribute(attribute));
    }
}
