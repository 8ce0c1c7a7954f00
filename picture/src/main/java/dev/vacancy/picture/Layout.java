package dev.vacancy.picture;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import org.eclipse.elk.alg.layered.options.LayeredOptions;
import org.eclipse.elk.core.RecursiveGraphLayoutEngine;
import org.eclipse.elk.core.data.LayoutMetaDataService;
import org.eclipse.elk.core.math.ElkPadding;
import org.eclipse.elk.core.options.CoreOptions;
import org.eclipse.elk.core.options.Direction;
import org.eclipse.elk.core.options.EdgeRouting;
import org.eclipse.elk.core.util.BasicProgressMonitor;
import org.eclipse.elk.graph.ElkEdge;
import org.eclipse.elk.graph.ElkLabel;
import org.eclipse.elk.graph.ElkNode;
import org.eclipse.elk.graph.util.ElkGraphUtil;

/** Where the boxes and lines of a diagram stand: in layers, parents to the left of their children. */
final class Layout {
    static final double LINE_HEIGHT = 16;
    static final double BOX_PADDING = 8;
    private static final double CHARACTER = 6.9;
    private static final double SMALL_CHARACTER = 6.1;
    private static final double SMALL_LINE_HEIGHT = 13;
    private static final double MARGIN = 16;

    private final ElkNode graph = ElkGraphUtil.createGraph();
    private final Map<Diagram.Box, ElkNode> boxes = new LinkedHashMap<>();
    private final Map<Diagram.Line, ElkEdge> lines = new LinkedHashMap<>();

    private Layout() {}

    static Layout of(Diagram diagram) {
        LayoutMetaDataService.getInstance().registerLayoutMetaDataProviders(new LayeredOptions());
        Layout layout = new Layout();
        layout.graph.setProperty(CoreOptions.ALGORITHM, LayeredOptions.ALGORITHM_ID);
        layout.graph.setProperty(CoreOptions.DIRECTION, Direction.RIGHT);
        layout.graph.setProperty(CoreOptions.EDGE_ROUTING, EdgeRouting.ORTHOGONAL);
        layout.graph.setProperty(CoreOptions.PADDING, new ElkPadding(MARGIN));
        layout.graph.setProperty(CoreOptions.SPACING_NODE_NODE, 18.0);
        layout.graph.setProperty(LayeredOptions.SPACING_NODE_NODE_BETWEEN_LAYERS, 22.0);
        layout.graph.setProperty(LayeredOptions.SPACING_EDGE_NODE_BETWEEN_LAYERS, 10.0);
        layout.graph.setProperty(LayeredOptions.SPACING_EDGE_EDGE_BETWEEN_LAYERS, 8.0);
        Map<String, ElkNode> byName = new HashMap<>();
        diagram.boxes().forEach((name, box) -> byName.put(name, layout.add(box)));
        diagram.lines().forEach(line -> layout.add(line, byName.get(line.from()), byName.get(line.to())));
        new RecursiveGraphLayoutEngine().layout(layout.graph, new BasicProgressMonitor());
        return layout;
    }

    double width() {
        return graph.getWidth();
    }

    double height() {
        return graph.getHeight();
    }

    Map<Diagram.Box, ElkNode> boxes() {
        return boxes;
    }

    Map<Diagram.Line, ElkEdge> lines() {
        return lines;
    }

    private ElkNode add(Diagram.Box box) {
        ElkNode node = ElkGraphUtil.createNode(graph);
        int longest = box.details().stream().mapToInt(String::length).max().orElse(0);
        double width = Math.max(box.heading().length() * (CHARACTER + 0.8), longest * SMALL_CHARACTER);
        node.setDimensions(
                width + 2 * BOX_PADDING, LINE_HEIGHT * (1 + box.details().size()) + 2 * BOX_PADDING);
        boxes.put(box, node);
        return node;
    }

    private void add(Diagram.Line line, ElkNode from, ElkNode to) {
        ElkEdge edge = ElkGraphUtil.createSimpleEdge(from, to);
        int longest = line.labels().stream().mapToInt(String::length).max().orElse(0);
        ElkLabel label = ElkGraphUtil.createLabel(String.join("\n", line.labels()), edge);
        label.setDimensions(
                longest * SMALL_CHARACTER + 4, SMALL_LINE_HEIGHT * line.labels().size() + 2);
        lines.put(line, edge);
    }
}
