package calmstep.service.runs;

import calmstep.core.plan.Reached;
import calmstep.core.step.UnitPlan;
import calmstep.service.json.Json;
import calmstep.service.reach.Reaches;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;

/**
 * Which sites a run concerns: those of its units, and those that lose the network while one of them
 * is dark. Kept when the run starts, so that whoever was told before is told after.
 */
@Component
class ReachedSites {
    private static final TypeReference<List<String>> WORDS = new TypeReference<>() {};

    private final UnitRows units;
    private final Reaches reaches;
    private final Json json;
    private final JdbcTemplate sql;

    ReachedSites(UnitRows units, Reaches reaches, Json json, JdbcTemplate sql) {
        this.units = units;
        this.reaches = reaches;
        this.json = json;
        this.sql = sql;
    }

    /**
     * Within a transaction.
     *
     * @param ids of the units, by their device's name
     */
    void keep(List<UnitPlan> units, Map<String, Long> ids) {
        Reaches.Look look = reaches.look();
        List<Object[]> rows = new ArrayList<>();
        for (UnitPlan unit : units) {
            for (Reached site : Reached.by(unit, look.devices(), look.graph())) {
                rows.add(
                        new Object[] {
                            ids.get(unit.device()),
                            site.site(),
                            json.write(site.devices()),
                            json.write(site.serves())
                        });
            }
        }
        sql.batchUpdate(
                "insert into unit_reach (unit_id, site, devices, serves) values (?, ?, ?, ?)",
                rows);
    }

    /** Who is cut off at a site, by unit. */
    Map<Long, Reached> at(long runId, String site) {
        return sql
                .query(
                        """
                        select r.unit_id, r.devices, r.serves from unit_reach r join run_unit u on u.id = r.unit_id
                        where u.run_id = ? and r.site = ?\
                        """,
                        (row, _) ->
                                Map.entry(
                                        row.getLong(1),
                                        reached(site, row.getString(2), row.getString(3))),
                        runId,
                        site)
                .stream()
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    private Reached reached(String site, String devices, String serves) {
        return new Reached(site, json.read(devices, WORDS), json.read(serves, WORDS));
    }

    /** All of a run's. */
    List<String> of(long runId) {
        return concerned(runId, "");
    }

    /** Of a run those at which every unit that concerns them is over. */
    List<String> over(long runId) {
        return concerned(runId, " having bool_and(state in ('settled', 'returned', 'set-aside'))");
    }

    private List<String> concerned(long runId, String having) {
        // What was changed in this transaction is not in the database yet.
        units.flush();
        return sql.queryForList(
                """
                select site from (
                    select u.site, u.state from run_unit u where u.run_id = ?
                    union all
                    select r.site, u.state from unit_reach r join run_unit u on u.id = r.unit_id where u.run_id = ?
                ) concerned group by site\
                """
                        + having
                        + " order by site",
                String.class,
                runId,
                runId);
    }

    /** Of one unit. */
    List<String> ofUnit(long unitId) {
        return sql.queryForList(
                "select site from run_unit where id = ? union select site from unit_reach where"
                        + " unit_id = ? order by site",
                String.class,
                unitId,
                unitId);
    }
}
