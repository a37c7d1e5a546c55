package calmstep.service.database;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.springframework.beans.factory.config.BeanPostProcessor;
import org.springframework.jdbc.datasource.DelegatingDataSource;
import org.springframework.stereotype.Component;

/**
 * How many of the database's connections those who drive devices may hold. A thousand of them would
 * fill every connection there is, wait there for each other's locks, and keep people out; a few
 * more than there are processors write as much, and whoever has to wait does so here, for as long
 * as it takes. Whose unit is furthest on its way goes first: it soon waits for its device again,
 * while the others would all come to that point at the same late time.
 */
@Component
public class DriversShare implements BeanPostProcessor {
    private static final int CONNECTIONS = 6;
    private static final ScopedValue<Driver> DRIVES = ScopedValue.newInstance();

    private final Turnstile turnstile = new Turnstile(CONNECTIONS);

    /** Whatever asks for a connection within {@code work} waits for its turn. */
    public static <T> T within(Supplier<T> work) {
        return DRIVES.isBound()
                ? work.get()
                : ScopedValue.where(DRIVES, new Driver()).call(work::get);
    }

    /**
     * How far on its way the unit is that this thread drives; says nothing where it drives none.
     */
    public static void isAt(int step) {
        if (DRIVES.isBound()) {
            DRIVES.get().step = step;
        }
    }

    /**
     * One thread; what it opens while it holds a connection does not wait for a turn again: it
     * would hold one and wait for another.
     */
    private static final class Driver {
        private int step;
        private int open;
    }

    @Override
    public Object postProcessAfterInitialization(Object bean, String name) {
        return name.equals("dataSource") && bean instanceof DataSource all ? new Shared(all) : bean;
    }

    private final class Shared extends DelegatingDataSource {
        Shared(DataSource all) {
            super(all);
        }

        @Override
        public Connection getConnection() throws SQLException {
            if (!DRIVES.isBound() || DRIVES.get().open > 0) {
                return super.getConnection();
            }
            turnstile.enter(DRIVES.get().step);
            try {
                return givenBack(super.getConnection(), DRIVES.get());
            } catch (SQLException | RuntimeException none) {
                turnstile.leave();
                throw none;
            }
        }

        private Connection givenBack(Connection lent, Driver driver) {
            driver.open++;
            AtomicBoolean open = new AtomicBoolean(true);
            return (Connection)
                    Proxy.newProxyInstance(
                            Connection.class.getClassLoader(),
                            new Class<?>[] {Connection.class},
                            (_, method, arguments) ->
                                    called(method, arguments, lent, open, driver));
        }

        private Object called(
                Method method,
                Object[] arguments,
                Connection lent,
                AtomicBoolean open,
                Driver driver)
                throws Throwable {
            try {
                return method.invoke(lent, arguments);
            } catch (InvocationTargetException failed) {
                throw failed.getCause();
            } finally {
                if (method.getName().equals("close") && open.compareAndSet(true, false)) {
                    driver.open--;
                    turnstile.leave();
                }
            }
        }
    }
}
