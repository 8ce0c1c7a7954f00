package dev.vacancy.picture;

import java.io.StringWriter;
import java.util.Locale;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import org.eclipse.elk.graph.ElkBendPoint;
import org.eclipse.elk.graph.ElkEdge;
import org.eclipse.elk.graph.ElkEdgeSection;
import org.eclipse.elk.graph.ElkLabel;
import org.eclipse.elk.graph.ElkNode;

/** Draws a diagram as Scalable Vector Graphics (SVG 1.1). */
final class Svg {
    private static final double TITLE_HEIGHT = 40;
    private static final double SMALL_LINE = 13;

    private final StringWriter text = new StringWriter();
    private final XMLStreamWriter xml;

    private Svg() throws XMLStreamException {
        xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
    }

    static String of(Diagram diagram) {
        try {
            Svg svg = new Svg();
            svg.draw(diagram, Layout.of(diagram));
            return svg.text.toString();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException("Nothing keeps a text from being written to memory", impossible);
        }
    }

    private void draw(Diagram diagram, Layout layout) throws XMLStreamException {
        double width = Math.max(layout.width(), diagram.title().length() * 10.4 + 32);
        double height = layout.height() + TITLE_HEIGHT;
        xml.writeStartDocument("UTF-8", "1.0");
        xml.writeStartElement("svg");
        xml.writeDefaultNamespace("http://www.w3.org/2000/svg");
        attributes("version", "1.1", "width", number(width), "height", number(height));
        attributes("viewBox", "0 0 " + number(width) + " " + number(height));
        attributes("font-family", "'DejaVu Sans', Verdana, sans-serif", "font-size", "12", "fill", "#1d232a");
        element("title", diagram.title());
        for (Tone tone : Tone.values()) {
            arrow(tone);
        }
        xml.writeEmptyElement("rect");
        attributes("width", number(width), "height", number(height), "fill", "#ffffff");
        label(16, 26, diagram.title(), "16", "bold");
        xml.writeStartElement("g");
        attributes("transform", "translate(0 " + number(TITLE_HEIGHT) + ")");
        for (var line : layout.lines().entrySet()) {
            draw(line.getKey(), line.getValue());
        }
        for (var box : layout.boxes().entrySet()) {
            draw(box.getKey(), box.getValue());
        }
        for (var line : layout.lines().entrySet()) {
            drawLabels(line.getKey(), line.getValue());
        }
        xml.writeEndElement();
        xml.writeEndElement();
        xml.writeEndDocument();
    }

    private void arrow(Tone tone) throws XMLStreamException {
        xml.writeStartElement("marker");
        attributes("id", "arrow-" + tone, "viewBox", "0 0 8 8", "refX", "8", "refY", "4");
        attributes("markerWidth", "8", "markerHeight", "8", "orient", "auto");
        xml.writeEmptyElement("path");
        attributes("d", "M 0 0.5 L 8 4 L 0 7.5 z", "fill", tone.stroke());
        xml.writeEndElement();
    }

    private void draw(Diagram.Box box, ElkNode node) throws XMLStreamException {
        xml.writeEmptyElement("rect");
        attributes("x", number(node.getX()), "y", number(node.getY()));
        attributes("width", number(node.getWidth()), "height", number(node.getHeight()), "rx", "3");
        attributes("fill", box.tone().fill(), "stroke", box.tone().stroke());
        attributes("stroke-width", box.tone() == Tone.FORBIDS ? "2.5" : "1.2");
        double x = node.getX() + Layout.BOX_PADDING;
        double y = node.getY() + Layout.BOX_PADDING + 12;
        label(x, y, box.heading(), "12", "bold");
        for (String detail : box.details()) {
            y += Layout.LINE_HEIGHT;
            label(x, y, detail, "11", "normal");
        }
    }

    private void draw(Diagram.Line line, ElkEdge edge) throws XMLStreamException {
        for (ElkEdgeSection section : edge.getSections()) {
            StringBuilder points = new StringBuilder(point(section.getStartX(), section.getStartY()));
            for (ElkBendPoint bend : section.getBendPoints()) {
                points.append(' ').append(point(bend.getX(), bend.getY()));
            }
            points.append(' ').append(point(section.getEndX(), section.getEndY()));
            xml.writeEmptyElement("polyline");
            attributes(
                    "points",
                    points.toString(),
                    "fill",
                    "none",
                    "stroke",
                    line.tone().stroke());
            attributes("stroke-width", line.tone() == Tone.FORBIDS ? "2.2" : "1.4");
            attributes("marker-end", "url(#arrow-" + line.tone() + ")");
            if (line.dashed()) {
                attributes("stroke-dasharray", "5 4");
            }
        }
    }

    private void drawLabels(Diagram.Line line, ElkEdge edge) throws XMLStreamException {
        for (ElkLabel label : edge.getLabels()) {
            double y = label.getY() + 10;
            for (String part : line.labels()) {
                xml.writeStartElement("text");
                attributes("x", number(label.getX() + 2), "y", number(y), "font-size", "10");
                attributes("fill", line.tone().stroke());
                xml.writeCharacters(part);
                xml.writeEndElement();
                y += SMALL_LINE;
            }
        }
    }

    private void label(double x, double y, String content, String size, String weight) throws XMLStreamException {
        xml.writeStartElement("text");
        attributes("x", number(x), "y", number(y), "font-size", size, "font-weight", weight);
        xml.writeCharacters(content);
        xml.writeEndElement();
    }

    private void element(String name, String content) throws XMLStreamException {
        xml.writeStartElement(name);
        xml.writeCharacters(content);
        xml.writeEndElement();
    }

    /** Writes attributes, each name before its value. */
    private void attributes(String... namesAndValues) throws XMLStreamException {
        for (int i = 0; i < namesAndValues.length; i += 2) {
            xml.writeAttribute(namesAndValues[i], namesAndValues[i + 1]);
        }
    }

    private static String point(double x, double y) {
        return number(x) + "," + number(y);
    }

    private static String number(double value) {
        return String.format(Locale.ROOT, "%.1f", value);
    }
}
