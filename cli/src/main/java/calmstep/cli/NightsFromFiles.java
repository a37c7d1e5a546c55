package calmstep.cli;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
import calmstep.core.forecast.Times;
import calmstep.core.plan.Abilities;
import calmstep.core.plan.Draft;
import calmstep.core.plan.Finding;
import calmstep.core.plan.NightPlanning;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.PlanDrafting;
import calmstep.core.plan.PlanOrder;
import calmstep.core.plan.PlanText;
import calmstep.core.plan.Severity;
import calmstep.core.plan.Start;
import calmstep.core.plan.Subject;
import calmstep.core.reach.Network;
import calmstep.core.step.UnitPlan;
import calmstep.core.text.RejectedText;
import calmstep.core.window.NightRules;
import calmstep.core.window.WindowsText;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The nights of a plan file without a service: the same computation over files.
 *
 * @param left units that go nowhere, as sentences: what bars their paths
 */
record NightsFromFiles(JsonNode nights, List<String> left) {

    static NightsFromFiles read(
            Path plan, Path inventory, @Nullable Path windows, List<Path> catalogueFiles) {
        try {
            Map<String, Catalogue> catalogues = new TreeMap<>();
            catalogueFiles.stream()
                    .map(file -> CatalogueText.read(file.toString(), GivenFile.read(file)))
                    .forEach(c -> catalogues.put(c.family(), c));
            Inventory fleet =
                    InventoryText.read(
                            inventory.toString(),
                            GivenFile.read(inventory),
                            InventoryText.Format.of(inventory.toString()),
                            catalogues.values().stream()
                                    .collect(
                                            Collectors.toMap(
                                                    Catalogue::family, Catalogue::schemes)));
            Map<String, Site> sites =
                    fleet.sites().stream()
                            .collect(Collectors.toMap(Site::name, Function.identity()));
            NightRules rules =
                    windows == null
                            ? NightRules.NONE
                            : WindowsText.read(
                                    windows.toString(), GivenFile.read(windows), sites.keySet());
            PlanOrder order =
                    PlanText.read(
                            plan.toString(),
                            GivenFile.read(plan),
                            fleet.devices().stream().map(Device::name).collect(Collectors.toSet()));
            if (windows == null && order.begins() instanceof Start.NextWindow) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "The plan waits for windows; name the file that gives them: --windows"
                                + " FILE");
            }
            return workedOut(order, fleet, sites, rules, catalogues, Clock.systemUTC().instant());
        } catch (RejectedText rejected) {
            throw new Problem(
                    Problem.STOPS,
                    "Refused; nothing was worked out.",
                    rejected.complaints().stream().map(Object::toString).toList());
        }
    }

    private static NightsFromFiles workedOut(
            PlanOrder order,
            Inventory fleet,
            Map<String, Site> sites,
            NightRules rules,
            Map<String, Catalogue> catalogues,
            Instant now) {
        Map<String, Device> devices =
                fleet.devices().stream()
                        .collect(Collectors.toMap(Device::name, Function.identity()));
        Set<String> images =
                catalogues.values().stream()
                        .flatMap(c -> c.releases().stream())
                        .flatMap(r -> r.images().stream())
                        .map(FirmwareImage::fileName)
                        .collect(Collectors.toSet());
        Draft draft = drafted(order, devices, catalogues, images, now);
        NightPlanning.Known known =
                new NightPlanning.Known(
                        devices,
                        catalogues,
                        sites,
                        rules,
                        Network.of(devices.values()),
                        Times.byCatalogue(),
                        Map.of());
        NightsView view =
                NightsView.of(
                        order.name(),
                        NightPlanning.of(draft.units(), known, order.wishes(), order.begins(), now),
                        order.wishes(),
                        order.begins(),
                        draft.units(),
                        devices,
                        sites,
                        Set.of());
        Set<String> going =
                draft.units().stream().map(UnitPlan::device).collect(Collectors.toSet());
        return new NightsFromFiles(
                JsonMapper.shared().valueToTree(view),
                draft.findings().stream()
                        .filter(
                                f ->
                                        f.severity() == Severity.STOP
                                                && !going.contains(f.device())
                                                && !f.key().endsWith("/never-read"))
                        .map(Finding::fact)
                        .toList());
    }

    private static Draft drafted(
            PlanOrder order,
            Map<String, Device> devices,
            Map<String, Catalogue> catalogues,
            Set<String> images,
            Instant now) {
        Draft draft =
                PlanDrafting.draft(
                        order.target(),
                        order.way(),
                        order.devices().stream()
                                .map(devices::get)
                                .map(d -> subject(d, catalogues, images))
                                .toList(),
                        now);
        return draft;
    }

    private static Subject subject(
            Device d, Map<String, Catalogue> catalogues, Set<String> images) {
        return new Subject(
                d,
                Optional.empty(),
                Optional.ofNullable(catalogues.get(d.family())),
                images,
                true,
                Abilities.PLAIN);
    }
}
