package dev.vacancy.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.knowm.xchart.AnnotationText;
import org.knowm.xchart.VectorGraphicsEncoder;
import org.knowm.xchart.VectorGraphicsEncoder.VectorGraphicsFormat;
import org.knowm.xchart.XYChart;

/** Draws how much is done by the number of processes, beside what one of them does. */
final class WorkersPlot {
    /** Where the figure ends, behind the names. */
    private static final double RIGHT = 12.5;

    /** How far apart two names stand at least, of the highest value. */
    private static final double LEADING = 0.045;

    /** Half of what a letter takes, in processes. */
    private static final double HALF_LETTER = 0.041;

    private WorkersPlot() {}

    /** Writes an SVG; each line begins at 1. */
    static void write(int[] processes, Map<String, double[]> each, Path file) throws IOException {
        XYChart chart =
                Plot.chart("PostgreSQL: several processes at the same work", "processes", "times as much as one");
        double most = each.values().stream()
                .flatMapToDouble(throughput -> Arrays.stream(throughput).map(done -> done / throughput[0]))
                .max()
                .orElseThrow();
        chart.getStyler().setXAxisMin(0.0).setXAxisMax(RIGHT).setXAxisDecimalPattern("0");
        chart.getStyler().setYAxisMin(0.0).setYAxisMax(most * 1.1).setYAxisDecimalPattern("0.0");
        double[] numbers = Arrays.stream(processes).asDoubleStream().toArray();
        List<Plot.End> ends = new ArrayList<>();
        each.forEach((label, throughput) -> {
            double[] times =
                    Arrays.stream(throughput).map(done -> done / throughput[0]).toArray();
            Plot.style(chart.addSeries(label, numbers, times), ends.size());
            ends.add(new Plot.End(label, numbers[numbers.length - 1], times[times.length - 1]));
        });
        name(chart, ends, most * LEADING);
        VectorGraphicsEncoder.saveVectorGraphic(
                chart, file.toString().replaceAll("\\.svg$", ""), VectorGraphicsFormat.SVG);
    }

    /** Names stand at the ends of their lines, moved apart where they would cover each other. */
    private static void name(XYChart chart, List<Plot.End> ends, double leading) {
        double lowest = 0;
        for (Plot.End end :
                ends.stream().sorted(Comparator.comparingDouble(Plot.End::up)).toList()) {
            double height = Math.max(end.up(), lowest);
            lowest = height + leading;
            double centre = end.across() + 0.2 + HALF_LETTER * end.label().length();
            chart.addAnnotation(new AnnotationText(end.label(), centre, height, false));
        }
    }
}
