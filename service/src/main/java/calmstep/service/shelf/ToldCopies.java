package calmstep.service.shelf;

import calmstep.service.json.Json;
import java.lang.management.ManagementFactory;
import java.util.List;
import java.util.UUID;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;

/**
 * A row a node, written over every other second while it serves copies; times are the database's.
 */
@Component
class ToldCopies implements OtherNodes {
    private static final TypeReference<List<Copy.View>> VIEWS = new TypeReference<>() {};

    /** A node that has told nothing for so long is gone, and its copies with it. */
    private static final int SILENT_SECONDS = 10;

    private final JdbcClient database;
    private final Json json;
    private final String node =
            ManagementFactory.getRuntimeMXBean().getName() + "/" + UUID.randomUUID();

    ToldCopies(JdbcClient database, Json json) {
        this.database = database;
        this.json = json;
    }

    @Override
    public void tell(List<Copy.View> own) {
        if (own.isEmpty()) {
            database.sql("delete from node_copies where node = :node").param("node", node).update();
        } else {
            database.sql(
                            "insert into node_copies (node, copies, told_at) values (:node,"
                                    + " :copies, now()) on conflict (node) do update set copies ="
                                    + " excluded.copies, told_at = excluded.told_at")
                    .param("node", node)
                    .param("copies", json.write(own))
                    .update();
        }
    }

    @Override
    public List<Copy.View> heard() {
        return database
                .sql(
                        "select copies from node_copies where node <> :node and told_at > now() -"
                                + " make_interval(secs => :silent)")
                .param("node", node)
                .param("silent", SILENT_SECONDS)
                .query(String.class)
                .list()
                .stream()
                .flatMap(text -> json.read(text, VIEWS).stream())
                .toList();
    }
}
