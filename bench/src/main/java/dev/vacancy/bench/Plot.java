package dev.vacancy.bench;

import java.awt.Color;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.knowm.xchart.VectorGraphicsEncoder;
import org.knowm.xchart.VectorGraphicsEncoder.VectorGraphicsFormat;
import org.knowm.xchart.XYChart;
import org.knowm.xchart.XYChartBuilder;
import org.knowm.xchart.style.Styler.LegendPosition;

/** Draws time over records, all contenders side by side. */
final class Plot {
    private Plot() {}

    /** Writes an SVG with both axes logarithmic. */
    static void write(List<Figure> figures, String store, Path file) throws IOException {
        XYChart chart = new XYChartBuilder()
                .width(960)
                .height(600)
                .title(store + ": time over deleted records")
                .xAxisTitle("records")
                .yAxisTitle("milliseconds")
                .build();
        chart.getStyler().setXAxisLogarithmic(true);
        chart.getStyler().setYAxisLogarithmic(true);
        chart.getStyler().setLegendPosition(LegendPosition.OutsideE);
        chart.getStyler().setChartBackgroundColor(Color.WHITE);
        List<Figure> own =
                figures.stream().filter(figure -> figure.store().equals(store)).toList();
        for (String label : own.stream().map(Figure::label).distinct().toList()) {
            List<Figure> line =
                    own.stream().filter(figure -> figure.label().equals(label)).toList();
            chart.addSeries(
                    label,
                    line.stream().mapToDouble(Figure::records).toArray(),
                    line.stream().mapToDouble(Figure::millis).toArray());
        }
        VectorGraphicsEncoder.saveVectorGraphic(
                chart, file.toString().replaceAll("\\.svg$", ""), VectorGraphicsFormat.SVG);
    }
}
