"""How Alembic runs here: on the connection that the database hands over, or offline not at all."""

from alembic import context

from cross_staff.storage.shop_tables import metadata  # with those of the rigs

connection = context.config.attributes["connection"]
# a batch rebuild with foreign keys on would silently delete child rows
connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
context.configure(connection=connection, target_metadata=metadata, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
connection.commit()
connection.exec_driver_sql("PRAGMA foreign_keys=ON")
connection.rollback()
