//! Groups formed again when somebody is not here, or more are: whoever can stay where they stand does.

/// Groups as they stood, with only those who are `here`, in groups of these `sizes`, whichever has which. As few move as the sizes allow; of the ways to do it
/// each step takes the one that costs least. Whoever stood nowhere is put where there is room. A group that is not wanted any more stays, empty.
pub(crate) fn reform(
    stood: &[Vec<usize>],
    here: &[usize],
    sizes: &[usize],
    cost: impl Fn(&[Vec<usize>]) -> f64,
) -> Vec<Vec<usize>> {
    let mut groups: Vec<Vec<usize>> =
        stood.iter().map(|group| group.iter().copied().filter(|n| here.contains(n)).collect()).collect();
    groups.resize(groups.len().max(sizes.len()), Vec::new());
    let wanted = wanted(&groups, sizes);
    let new: Vec<usize> =
        here.iter().copied().filter(|n| !groups.iter().any(|group| group.contains(n))).collect();
    let has_room = |groups: &[Vec<usize>], n: usize| groups[n].len() < wanted[n];
    for member in new {
        let to = (0..groups.len()).filter(|n| has_room(&groups, *n));
        let put = |to: usize| {
            let mut then = groups.clone();
            then[to].push(member);
            then
        };
        if let Some(then) = cheapest(to.map(put), &cost) {
            groups = then;
        }
    }
    while let Some(then) = cheapest(moves(&groups, &wanted), &cost) {
        groups = then;
    }
    // Of groups as full as each other it was taken by chance which gets one more: whoever does not stay anyway goes where it costs less.
    while let Some(then) = cheapest(otherwise(&groups, stood), &cost)
        && cost(&then) < cost(&groups) - 1e-9
    {
        groups = then;
    }
    groups
}

/// Everything that it can come to when one of those who do not stay goes to a group with one fewer, so that the sizes are the same ones.
fn otherwise<'a>(groups: &'a [Vec<usize>], stood: &'a [Vec<usize>]) -> impl Iterator<Item = Vec<Vec<usize>>> {
    let stays = |from: usize, member: &usize| stood.get(from).is_some_and(|group| group.contains(member));
    (0..groups.len()).flat_map(move |from| {
        let fewer = (0..groups.len()).filter(move |to| groups[*to].len() + 1 == groups[from].len());
        fewer.flat_map(move |to| {
            let goes = (0..groups[from].len()).filter(move |place| !stays(from, &groups[from][*place]));
            goes.map(move |place| moved(groups, (from, place), to))
        })
    })
}

/// Groups after somebody has gone from a place in one of them to another.
fn moved(groups: &[Vec<usize>], (from, place): (usize, usize), to: usize) -> Vec<Vec<usize>> {
    let mut then = groups.to_vec();
    let member = then[from].remove(place);
    then[to].push(member);
    then
}

/// The size of each group, in their order: the fullest stays the fullest, so that the fewest have to leave one.
fn wanted(groups: &[Vec<usize>], sizes: &[usize]) -> Vec<usize> {
    let mut fullest: Vec<usize> = (0..groups.len()).collect();
    fullest.sort_by_key(|n| (std::cmp::Reverse(groups[*n].len()), *n));
    let mut sizes = sizes.to_vec();
    sizes.sort_by_key(|size| std::cmp::Reverse(*size));
    let mut wanted = vec![0; groups.len()];
    for (group, size) in fullest.into_iter().zip(sizes) {
        wanted[group] = size;
    }
    wanted
}

/// Everything that one move of somebody from a group that is too full to one with room can come to.
fn moves<'a>(groups: &'a [Vec<usize>], wanted: &'a [usize]) -> impl Iterator<Item = Vec<Vec<usize>>> {
    let full = (0..groups.len()).filter(|n| groups[*n].len() > wanted[*n]);
    full.flat_map(move |from| {
        let open = (0..groups.len()).filter(|n| groups[*n].len() < wanted[*n]);
        open.flat_map(move |to| (0..groups[from].len()).map(move |place| moved(groups, (from, place), to)))
    })
}

fn cheapest(
    ways: impl Iterator<Item = Vec<Vec<usize>>>,
    cost: impl Fn(&[Vec<usize>]) -> f64,
) -> Option<Vec<Vec<usize>>> {
    let costs = ways.map(|way| (cost(&way), way));
    costs.min_by(|(a, _), (b, _)| a.total_cmp(b)).map(|(_, way)| way)
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    /// Where somebody stands.
    fn place(groups: &[Vec<usize>], member: usize) -> Option<usize> {
        groups.iter().position(|group| group.contains(&member))
    }

    /// How many stand elsewhere than they stood.
    fn movers(stood: &[Vec<usize>], now: &[Vec<usize>]) -> usize {
        let before = stood.iter().flatten().filter(|n| place(now, **n).is_some());
        before.filter(|n| place(stood, **n) != place(now, **n)).count()
    }

    fn even(people: usize, groups: usize) -> Vec<usize> {
        (0..groups).map(|n| people / groups + usize::from(n < people % groups)).collect()
    }

    #[test]
    fn of_all_who_could_move_the_nearest_does() {
        let stood = [vec![0, 1, 2], vec![3, 4, 5], vec![6, 7]];
        let apart = |groups: &[Vec<usize>]| groups.iter().map(|group| spread(group)).sum();
        let now = reform(&stood, &[0, 1, 2, 3, 4, 5, 7], &even(7, 3), apart);
        assert_eq!(now, [vec![0, 1, 2], vec![3, 4], vec![7, 5]]);
        let now = reform(&stood, &[0, 1, 3, 4, 5, 6, 7, 8], &even(8, 3), apart);
        assert_eq!(now, [vec![0, 1], vec![3, 4, 5], vec![6, 7, 8]], "who is new fills up, and nobody moves");
    }

    fn spread(group: &[usize]) -> f64 {
        let (low, high) = (group.iter().min(), group.iter().max());
        high.zip(low).map_or(0.0, |(high, low)| (high - low) as f64)
    }

    proptest! {
        /// Nobody is lost or doubled, the sizes are as asked, and no way to reach them would have moved fewer.
        #[test]
        fn as_few_move_as_the_sizes_allow(
            groups in 1_usize..5,
            people in 1_usize..9,
            away in proptest::collection::vec(any::<bool>(), 9),
            new in 0_usize..3,
        ) {
            let mut stood = vec![Vec::new(); groups];
            (0..people).for_each(|n| stood[n % groups].push(n));
            let mut here: Vec<usize> = (0..people).filter(|n| !away[*n]).collect();
            here.extend(people..people + new);
            let sizes = even(here.len(), groups);
            let now = reform(&stood, &here, &sizes, |groups| groups.iter().map(|group| spread(group)).sum());
            let mut all: Vec<usize> = now.concat();
            all.sort_unstable();
            prop_assert_eq!(&all, &here);
            let mut made: Vec<usize> = now.iter().map(Vec::len).collect();
            made.sort_unstable_by(|a, b| b.cmp(a));
            prop_assert_eq!(&made, &sizes);
            // The least by trying every way to hand the sizes out: whoever is too many in a group has to leave it.
            let left: Vec<usize> = stood.iter().map(|group| group.iter().filter(|n| here.contains(n)).count()).collect();
            let least = every_order(&sizes).into_iter().map(|sizes| left.iter().zip(sizes).map(|(left, size)| left.saturating_sub(size)).sum::<usize>());
            prop_assert_eq!(Some(movers(&stood, &now)), least.min());
        }
    }

    fn every_order(sizes: &[usize]) -> Vec<Vec<usize>> {
        if sizes.is_empty() {
            return vec![Vec::new()];
        }
        let first = |n: usize| {
            let mut rest = sizes.to_vec();
            let size = rest.remove(n);
            every_order(&rest).into_iter().map(move |mut order| {
                order.push(size);
                order
            })
        };
        (0..sizes.len()).flat_map(first).collect()
    }
}
