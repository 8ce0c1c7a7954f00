package dev.vacancy.cli.showing;

import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.rule.Finding;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Writes findings for programs. {@code docs/output.schema.json} describes the result. */
public final class FindingsJson {
    private FindingsJson() {}

    public static String of(List<Finding> findings) {
        return JsonText.write(
                Map.of("findings", findings.stream().map(FindingsJson::finding).toList()));
    }

    private static Map<String, Object> finding(Finding finding) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("kind", finding.kind().name().toLowerCase(Locale.ROOT).replace('_', '-'));
        json.put("where", finding.where());
        json.put("why", finding.why());
        json.put("remedy", finding.remedy());
        return json;
    }
}
