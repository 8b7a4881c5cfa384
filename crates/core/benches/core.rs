//! How fast the core answers: reading a day, texts of growing size, and planning a class.

use std::hint::black_box;

use criterion::{BenchmarkId, Criterion, Throughput, criterion_group, criterion_main};
use lantern_core::gym::Gym;
use lantern_core::member::roster_from_csv;
use lantern_core::movement::Catalogue;
use lantern_core::plan::plan;
use lantern_core::read::read;

const DAY: &str = include_str!("../../../data/demo/sessions/01.txt");
const ROSTER: &str = include_str!("../../../data/demo/members.csv");

fn reading(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    c.bench_function("read an ordinary day", |b| b.iter(|| read(black_box(DAY), catalogue)));
    let mut group = c.benchmark_group("read");
    for kilobytes in [1, 10, 100] {
        let text: String = DAY.lines().cycle().flat_map(|line| [line, "\n"]).take(kilobytes * 100).collect();
        group.throughput(Throughput::Bytes(text.len() as u64));
        group.bench_with_input(BenchmarkId::from_parameter(text.len()), &text, |b, text| {
            b.iter(|| read(black_box(text), catalogue));
        });
    }
    group.finish();
}

fn planning(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    let session = read(DAY, catalogue).session;
    let (members, _) = roster_from_csv(ROSTER);
    let twice: Vec<_> = members.iter().chain(&members).cloned().collect();
    let gym = Gym::default();
    let mut group = c.benchmark_group("plan a class");
    group.sample_size(20);
    for (name, class) in [("14 members", &members), ("28 members", &twice)] {
        group.bench_function(name, |b| b.iter(|| plan(black_box(&session), class, &gym, catalogue, 1)));
    }
    group.finish();
}

criterion_group!(benches, reading, planning);
criterion_main!(benches);
