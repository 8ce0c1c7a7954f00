package dev.vacancy.bench;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.knowm.xchart.AnnotationText;
import org.knowm.xchart.VectorGraphicsEncoder;
import org.knowm.xchart.VectorGraphicsEncoder.VectorGraphicsFormat;
import org.knowm.xchart.XYChart;
import org.knowm.xchart.XYChartBuilder;
import org.knowm.xchart.XYSeries;
import org.knowm.xchart.style.markers.Marker;
import org.knowm.xchart.style.markers.SeriesMarkers;

/** Draws time over records, each contender a line with its name at the end. */
final class Plot {
    private static final int WIDTH = 1_060;
    private static final int HEIGHT = 680;
    private static final Font TEXT = new Font(Font.SANS_SERIF, Font.PLAIN, 12);
    private static final Color INK = new Color(0x22, 0x22, 0x22);

    /** Room for the names, as a power of ten beyond the last record. */
    private static final double MARGIN = 1.25;

    /** How far apart two names stand at least, as a power of ten. */
    private static final double LEADING = 0.105;

    /** Half of what a letter takes, as a power of ten. */
    private static final double HALF_LETTER = 0.0125;

    /** Told apart by whoever sees fewer colours as well; each comes once with a solid and once with a broken line. */
    private static final List<Color> COLOURS = List.of(
            new Color(0x00, 0x72, 0xB2),
            new Color(0xD5, 0x5E, 0x00),
            new Color(0x00, 0x7A, 0x5A),
            new Color(0xA6, 0x3D, 0x84),
            new Color(0x7A, 0x5C, 0x00),
            new Color(0x44, 0x44, 0x44));

    private static final List<Marker> MARKERS = List.of(
            SeriesMarkers.CIRCLE,
            SeriesMarkers.SQUARE,
            SeriesMarkers.DIAMOND,
            SeriesMarkers.TRIANGLE_UP,
            SeriesMarkers.TRIANGLE_DOWN,
            SeriesMarkers.CROSS);

    private Plot() {}

    /** Where a line ends. */
    record End(String label, double across, double up) {}

    /** Writes an SVG with both axes logarithmic. */
    static void write(List<Figure> figures, String store, Path file) throws IOException {
        List<Figure> own =
                figures.stream().filter(figure -> figure.store().equals(store)).toList();
        XYChart chart = chart(store + ": time over deleted records", "records", "milliseconds");
        chart.getStyler()
                .setXAxisLogarithmic(true)
                .setYAxisLogarithmic(true)
                .setXAxisDecimalPattern("#,##0")
                .setYAxisDecimalPattern("#,##0");
        double most = own.stream().mapToDouble(Figure::records).max().orElseThrow();
        chart.getStyler().setXAxisMax(most * Math.pow(10, MARGIN));
        List<End> ends = new ArrayList<>();
        for (String label : Contender.labels()) {
            List<Figure> line = own.stream()
                    .filter(figure -> figure.label().equals(label))
                    .sorted(Comparator.comparingInt(Figure::hives))
                    .toList();
            if (!line.isEmpty()) {
                style(
                        chart.addSeries(
                                label,
                                line.stream().mapToDouble(Figure::records).toArray(),
                                line.stream().mapToDouble(Figure::millis).toArray()),
                        Contender.labels().indexOf(label));
                Figure last = line.get(line.size() - 1);
                ends.add(new End(label, last.records(), last.millis()));
            }
        }
        name(chart, ends);
        VectorGraphicsEncoder.saveVectorGraphic(
                chart, file.toString().replaceAll("\\.svg$", ""), VectorGraphicsFormat.SVG);
    }

    static XYChart chart(String title, String across, String up) {
        XYChart chart = new XYChartBuilder()
                .width(WIDTH)
                .height(HEIGHT)
                .title(title)
                .xAxisTitle(across)
                .yAxisTitle(up)
                .build();
        chart.getStyler().setLegendVisible(false);
        chart.getStyler().setChartBackgroundColor(Color.WHITE);
        chart.getStyler().setAnnotationTextFont(TEXT);
        chart.getStyler().setAnnotationTextFontColor(INK);
        return chart;
    }

    static void style(XYSeries series, int place) {
        Color colour = COLOURS.get(place % COLOURS.size());
        series.setLineColor(colour);
        series.setMarkerColor(colour);
        series.setMarker(MARKERS.get(place % MARKERS.size()));
        series.setLineStyle(
                place < COLOURS.size()
                        ? new BasicStroke(2)
                        : new BasicStroke(2, BasicStroke.CAP_BUTT, BasicStroke.JOIN_BEVEL, 1, new float[] {7, 4}, 0));
    }

    /** Names stand at the ends of their lines, moved apart where they would cover each other. */
    private static void name(XYChart chart, List<End> ends) {
        Map<Double, Double> highest = new LinkedHashMap<>();
        ends.stream().sorted(Comparator.comparingDouble(End::up)).forEach(end -> {
            double lowest = highest.getOrDefault(end.across(), Double.NEGATIVE_INFINITY) + LEADING;
            double height = Math.max(Math.log10(end.up()), lowest);
            highest.put(end.across(), height);
            double centre =
                    Math.log10(end.across()) + 0.05 + HALF_LETTER * end.label().length();
            chart.addAnnotation(new AnnotationText(end.label(), Math.pow(10, centre), Math.pow(10, height), false));
        });
    }
}
