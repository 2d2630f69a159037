-- Up Migration

-- What people edit counts its changes: whoever saves says which one they saw.
ALTER TABLE shoots ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE setups ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE parts ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE planned_tricks ADD COLUMN version integer NOT NULL DEFAULT 1;

CREATE FUNCTION count_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  NEW.version := OLD.version + 1;
  RETURN NEW;
END $$;

CREATE TRIGGER shoots_counted BEFORE UPDATE ON shoots FOR EACH ROW
  WHEN ((OLD.name, OLD.place, OLD.delivery_width, OLD.delivery_height, OLD.delivery_fps, OLD.latitude, OLD.longitude, OLD.time_zone, OLD.days)
    IS DISTINCT FROM (NEW.name, NEW.place, NEW.delivery_width, NEW.delivery_height, NEW.delivery_fps, NEW.latitude, NEW.longitude, NEW.time_zone, NEW.days))
  EXECUTE FUNCTION count_change();
CREATE TRIGGER setups_counted BEFORE UPDATE ON setups FOR EACH ROW
  WHEN ((OLD.name, OLD.notes, OLD.scene, OLD.place, OLD.camera) IS DISTINCT FROM (NEW.name, NEW.notes, NEW.scene, NEW.place, NEW.camera))
  EXECUTE FUNCTION count_change();
CREATE TRIGGER parts_counted BEFORE UPDATE ON parts FOR EACH ROW
  WHEN ((OLD.name, OLD.what, OLD.optional, OLD.seconds, OLD.purpose) IS DISTINCT FROM (NEW.name, NEW.what, NEW.optional, NEW.seconds, NEW.purpose))
  EXECUTE FUNCTION count_change();
CREATE TRIGGER planned_tricks_counted BEFORE UPDATE ON planned_tricks FOR EACH ROW
  WHEN ((OLD.trick, OLD.wishes) IS DISTINCT FROM (NEW.trick, NEW.wishes))
  EXECUTE FUNCTION count_change();

-- Down Migration
ALTER TABLE shoots DROP COLUMN version;
ALTER TABLE setups DROP COLUMN version;
ALTER TABLE parts DROP COLUMN version;
ALTER TABLE planned_tricks DROP COLUMN version;
DROP TRIGGER shoots_counted ON shoots;
DROP TRIGGER setups_counted ON setups;
DROP TRIGGER parts_counted ON parts;
DROP TRIGGER planned_tricks_counted ON planned_tricks;
DROP FUNCTION count_change;
