//! The gym's inventory: what heats, racks and places on the floor are worked out with.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::gym::{Bar, Gym, Plate, Shelf, shelves_from_text, shelves_to_text};
use lantern_core::units::{WeightUnit, plain};
use lantern_store::{StoreError, gyms};

use crate::gym::ChangedFields;
use crate::request::Form;
use crate::request::tenant::{Owning, Tenant};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(save);
}

#[derive(Template)]
#[template(path = "gym/inventory.html")]
struct InventoryPage {
    gym: String,
    /// The units, each with whether it is the gym's.
    units: [(WeightUnit, bool); 2],
    /// The gym's, as the form was first shown.
    was_unit: WeightUnit,
    counts: Vec<Field>,
    shelves: Vec<Field>,
    problems: Vec<String>,
}

/// A field as typed.
struct Field {
    name: &'static str,
    label: &'static str,
    value: String,
    /// What it was when the form was first shown: what is left as it was is not changed.
    was: String,
}

/// A number of the inventory: its field, its label, and where it stands.
type Count = (&'static str, &'static str, fn(&mut Gym) -> &mut u32);

const COUNTS: [Count; 12] = [
    ("racks", "Racks", |gym| &mut gym.racks),
    ("rowers", "Rowers", |gym| &mut gym.rowers),
    ("skis", "Ski machines", |gym| &mut gym.skis),
    ("bikes", "Bikes", |gym| &mut gym.bikes),
    ("rig_places", "Rig places", |gym| &mut gym.rig_places),
    ("rings", "Pairs of rings", |gym| &mut gym.rings),
    ("ropes", "Climbing ropes", |gym| &mut gym.ropes),
    ("sleds", "Sleds", |gym| &mut gym.sleds),
    ("benches", "Benches", |gym| &mut gym.benches),
    ("ghds", "Sit-up benches", |gym| &mut gym.ghds),
    ("mats", "Mats", |gym| &mut gym.mats),
    ("wall_places", "Places at a wall", |gym| &mut gym.wall_places),
];
/// Most of one thing that a gym may have.
const MOST: u32 = 500;

/// A shelf of the inventory: its field, its label, and where it stands.
type Shelves = (&'static str, &'static str, fn(&mut Gym) -> &mut Vec<Shelf>);

const SHELVES: [Shelves; 4] = [
    ("dumbbells", "Dumbbells, pairs", |gym| &mut gym.dumbbells),
    ("kettlebells", "Kettlebells, kg", |gym| &mut gym.kettlebells),
    ("balls", "Balls", |gym| &mut gym.balls),
    ("boxes", "Boxes, cm high", |gym| &mut gym.boxes),
];

const UNITS: [WeightUnit; 2] = [WeightUnit::Kg, WeightUnit::Lb];

fn unit_called(name: &str) -> Option<WeightUnit> {
    UNITS.into_iter().find(|unit| unit.to_string() == name)
}

/// `GET /gym/inventory`
#[get("/gym/inventory")]
async fn show(tenant: Tenant) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    html(&page(&gym, &[], Vec::new()))
}

/// The page with what was typed, else with what the gym has.
fn page(gym: &Gym, typed: &[(String, String)], problems: Vec<String>) -> InventoryPage {
    let mut known = gym.clone();
    let field = |name: &'static str, label: &'static str, stored: String| {
        let sent = |name: &str| typed.iter().find(|(field, _)| field == name).map(|(_, value)| value.clone());
        let value = sent(name).unwrap_or_else(|| stored.clone());
        Field { name, label, value, was: sent(&format!("was_{name}")).unwrap_or(stored) }
    };
    let mut counts: Vec<Field> =
        COUNTS.iter().map(|(name, label, of)| field(name, label, of(&mut known).to_string())).collect();
    for (name, label, metres) in
        [("floor_width", "Floor, m wide", gym.floor_m.0), ("floor_depth", "Floor, m deep", gym.floor_m.1)]
    {
        counts.push(field(name, label, plain(metres)));
    }
    let bars: Vec<Shelf> = gym.bars.iter().map(|bar| Shelf { size: bar.weight, count: bar.count }).collect();
    let plates: Vec<Shelf> =
        gym.plates.iter().map(|plate| Shelf { size: plate.weight, count: plate.count }).collect();
    let mut shelves = vec![
        field("bars", "Bars", shelves_to_text(&bars)),
        field("plates", "Plates, single", shelves_to_text(&plates)),
    ];
    shelves
        .extend(SHELVES.iter().map(|(name, label, of)| field(name, label, shelves_to_text(of(&mut known)))));
    let chosen = typed.iter().find(|(field, _)| field == "unit").and_then(|(_, unit)| unit_called(unit));
    let chosen = chosen.unwrap_or(gym.unit);
    let units = UNITS.map(|unit| (unit, unit == chosen));
    InventoryPage { gym: gym.name.clone(), units, was_unit: gym.unit, counts, shelves, problems }
}

/// `POST /gym/inventory`: field by field; what is left out, or as it was shown, stays as it is; what cannot be read is named, and nothing is saved.
#[post("/gym/inventory")]
async fn save(tenant: Tenant<Owning>, form: Form<Vec<(String, String)>>) -> Result<HttpResponse, AppError> {
    let before = tenant.gym.clone();
    match read(&before, &form) {
        Ok(_) => {
            let mut rows = tenant.change().await?;
            // Once more under the lock, on what stands by then: only what was changed here is changed there.
            gyms::change(&mut rows, |gym| {
                *gym = read(gym, &form).map_err(|problems| StoreError::Refused(problems.join("; ")))?;
                Ok(())
            })
            .await?;
            rows.keep().await?;
            Ok(see_other("/gym/inventory"))
        }
        Err(problems) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page(&before, &form, problems)),
    }
}

/// The gym with the inventory typed, or what is wrong with which field.
fn read(before: &Gym, form: &[(String, String)]) -> Result<Gym, Vec<String>> {
    let mut gym = before.clone();
    let mut problems = Vec::new();
    let fields = ChangedFields(form);
    let typed = |name: &str| fields.get(name);
    // Bars and plates of the other unit are none of this one's; what is typed beside it stands.
    match typed("unit").map(|unit| (unit, unit_called(unit))) {
        Some((_, Some(unit))) if unit != gym.unit => gym = gym.in_unit(unit),
        Some((text, None)) => problems.push(format!("Unit: `{text}` is neither kg nor lb")),
        Some(_) | None => {}
    }
    for (name, label, of) in COUNTS {
        let Some(text) = typed(name) else { continue };
        match text.parse::<u32>().ok().filter(|count| *count <= MOST) {
            Some(count) => *of(&mut gym) = count,
            None => problems.push(format!("{label}: `{text}` is not from 0 to {MOST}")),
        }
    }
    for (name, label, metres) in [("floor_width", "Floor width", 0), ("floor_depth", "Floor depth", 1)] {
        let Some(text) = typed(name) else { continue };
        let value = text.replace(',', ".").parse::<f64>().ok().filter(|m| (4.0..=100.0).contains(m));
        match (value, metres) {
            (Some(value), 0) => gym.floor_m.0 = value,
            (Some(value), _) => gym.floor_m.1 = value,
            (None, _) => problems.push(format!("{label}: `{text}` is not from 4 to 100 metres")),
        }
    }
    let mut shelves = |name: &str, label: &str| -> Option<Vec<Shelf>> {
        match shelves_from_text(typed(name)?) {
            Ok(shelves) => Some(shelves),
            Err(wrong) => {
                problems.push(format!("{label}: `{wrong}` is no size and number such as 20 x 8"));
                None
            }
        }
    };
    for (name, label, of) in SHELVES {
        if let Some(found) = shelves(name, label) {
            *of(&mut gym) = found;
        }
    }
    if let Some(plates) = shelves("plates", "Plates") {
        gym.plates =
            plates.into_iter().map(|plate| Plate { weight: plate.size, count: plate.count }).collect();
    }
    if let Some(bars) = shelves("bars", "Bars") {
        let (unit, known) = (gym.unit, std::mem::take(&mut gym.bars));
        let name = |weight: f64| {
            let known = known.iter().find(|bar| (bar.weight - weight).abs() < 1e-9);
            known.map_or_else(|| format!("{} {} bar", plain(weight), unit), |bar| bar.name.clone())
        };
        let bar = |bar: Shelf| Bar { name: name(bar.size), weight: bar.size, count: bar.count };
        gym.bars = bars.into_iter().map(bar).collect();
        if gym.bars.is_empty() {
            problems.push("Bars: a gym needs at least one, however light".to_owned());
        }
    }
    if problems.is_empty() { Ok(gym) } else { Err(problems) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn typed(fields: &[(&str, &str)]) -> Vec<(String, String)> {
        fields.iter().map(|(name, value)| ((*name).to_owned(), (*value).to_owned())).collect()
    }

    #[test]
    fn an_inventory_is_read_field_by_field_and_the_rest_stays() {
        let before = Gym::default();
        let gym =
            read(&before, &typed(&[("rowers", "9"), ("bars", "20 x 4, 15 x 2"), ("floor_width", "12,5")]));
        let gym = gym.unwrap();
        assert_eq!((gym.rowers, gym.skis, gym.floor_m), (9, before.skis, (12.5, before.floor_m.1)));
        assert_eq!(
            gym.bars.iter().map(|bar| bar.name.as_str()).collect::<Vec<_>>(),
            ["Standard bar", "Light bar"]
        );
    }

    #[test]
    fn the_other_unit_brings_its_usual_bars_and_what_is_typed_beside_it_stands() {
        let (before, shown) = (Gym::default(), page(&Gym::default(), &[], Vec::new()));
        let as_shown = shown.shelves.iter().flat_map(|field| {
            [(field.name.to_owned(), field.value.clone()), (format!("was_{}", field.name), field.was.clone())]
        });
        let mut form: Vec<(String, String)> = as_shown.collect();
        form.extend(typed(&[("unit", "lb"), ("was_unit", "kg")]));
        let gym = read(&before, &form).unwrap();
        assert_eq!(gym, Gym::default().in_unit(WeightUnit::Lb));
        form.iter_mut().filter(|(name, _)| name == "bars").for_each(|(_, value)| "45 x 3".clone_into(value));
        let gym = read(&before, &form).unwrap();
        assert_eq!(
            (gym.bars.len(), gym.bars[0].weight, gym.bars[0].name.as_str()),
            (1, 45.0, "Standard bar")
        );
        assert!(read(&before, &typed(&[("unit", "stone")])).unwrap_err()[0].contains("`stone`"));
        let again = page(&before, &typed(&[("unit", "lb")]), Vec::new());
        assert_eq!((again.units[1], again.was_unit), ((WeightUnit::Lb, true), WeightUnit::Kg));
    }

    #[test]
    fn each_wrong_field_is_named_and_what_was_typed_is_shown_again() {
        let form = typed(&[("rowers", "lots"), ("plates", "20 x 4, heavy"), ("bars", "")]);
        let problems = read(&Gym::default(), &form).unwrap_err();
        assert_eq!(problems.len(), 3, "{problems:?}");
        assert!(problems.iter().any(|problem| problem.contains("`heavy`")));
        let page = page(&Gym::default(), &form, problems);
        assert!(page.counts.iter().any(|field| field.name == "rowers" && field.value == "lots"));
    }
}
