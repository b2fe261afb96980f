<?php

namespace Pestle\App\Controller;

use Pestle\App\Apart\TakenApart;
use Pestle\App\Deliver\Deliveries;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\Library;
use Pestle\App\Gather\LibrarySearch;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Live\LiveSets;
use Pestle\App\Page\ApartPage;
use Pestle\App\Page\BeatPage;
use Pestle\App\Page\ChopFits;
use Pestle\App\Page\ChopPage;
use Pestle\App\Page\DeliverPage;
use Pestle\App\Page\FeelPage;
use Pestle\App\Page\FeltLane;
use Pestle\App\Page\KeysPage;
use Pestle\App\Page\KitPage;
use Pestle\App\Page\LivePage;
use Pestle\App\Page\MixPage;
use Pestle\App\Page\ShelfPage;
use Pestle\App\Page\SongPage;
use Pestle\App\Page\SoundPage;
use Pestle\App\Page\SoundsAtHand;
use Pestle\App\Page\TracksPage;
use Pestle\App\Page\WhatCanMove;
use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Exchanged;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\ReadyMade;
use Pestle\Core\Synth\DrumKits;
use Pestle\Core\Synth\DrumSound;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** The workspaces of a beat, each at an address of its own. */
#[Route('/beats/{beat}', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
final class WorkspaceController extends AbstractController
{
    /** Sounds that are offered for a lane. */
    private const MOST_SOUNDS = 80;
    /** Recordings that are offered in a list. */
    private const MOST_OFFERED = 200;

    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples, private readonly KitShelf $shelf, private readonly GrooveShelf $grooves, private readonly TakenApart $apart, private readonly LiveSets $live)
    {
    }

    #[Route('')]
    public function open(BeatRecord $record): Response
    {
        return new RedirectResponse(\sprintf('/beats/%d/pattern', $record->id));
    }

    #[Route('/gather')]
    public function gather(BeatRecord $record, Request $request, Library $library): Response
    {
        $page = $this->page($record, 'gather', $request);
        $search = new LibrarySearch($page->library());
        $most = max(Library::AT_ONCE, min(20_000, (int) $page->chosen('show')));
        [$samples, $count] = $library->found($search, $most);
        $sample = $this->chosen($page, $samples);

        return $this->show($page, [
            'samples' => $samples,
            'count' => $count,
            'search' => $search,
            'more' => $count > $most ? $most + 2 * Library::AT_ONCE : null,
            'sample' => $sample,
            'marks' => null === $sample ? null : $this->samples->marks($sample),
            'uses' => $this->beats->usesOfSamples(),
            'unused' => $library->unusedCount(),
            'twins' => null === $sample ? [] : $library->twinsOf($sample),
            'roles' => Role::cases(),
        ]);
    }

    #[Route('/chop')]
    public function chop(BeatRecord $record, Request $request): Response
    {
        $page = $this->page($record, 'chop', $request);
        $samples = $this->samples->newest(self::MOST_OFFERED);
        $sliced = array_key_first($page->beat->slices);
        $fallback = null === $sliced ? null : $this->samples->find((string) $sliced);

        $sample = $this->chosen($page, $samples, $fallback);

        return $this->show($page, [
            'samples' => $samples,
            'sample' => $sample,
            'chop' => $chop = null === $sample ? null : new ChopPage($sample, $page->beat),
            'cues' => null === $chop ? [] : $chop->cues($this->samples->marks($chop->sample)),
            'fits' => null === $chop ? null : new ChopFits($chop),
            'apart' => null === $chop || 'apart' !== $page->chosen('tool') ? null : new ApartPage($this->apart->state($chop->sample), $page->beat),
            'others' => array_values(array_filter($this->samples->loops(self::MOST_OFFERED), static fn (Sample $s): bool => $s->hash !== $sample?->hash)),
            'tool' => \in_array($page->chosen('tool'), ['edits', 'grid', 'fit', 'arrange', 'notes', 'apart'], true) ? $page->chosen('tool') : 'slices',
            'roles' => Role::cases(),
        ]);
    }

    #[Route('/kit')]
    public function kit(BeatRecord $record, Request $request): Response
    {
        $page = $this->page($record, 'kit', $request);
        if (null !== $keys = $page->part->keys) {
            $samples = $this->samples->named(array_column($keys->sounds(), 'sample'));

            return $this->show($page, ['pad' => null, 'keys' => new KeysPage($page, $page->part, $keys, $samples), 'shelf' => new ShelfPage($this->shelf, $page, $page->part), 'roles' => Role::cases()]);
        }
        $pad = $page->pad();

        $shelf = new ShelfPage($this->shelf, $page, $page->beat->part(null === $pad ? $page->part->id : $page->beat->kit->partOf($pad->id) ?? $page->part->id));
        if (null === $pad) {
            return $this->show($page, ['pad' => null, 'shelf' => $shelf, 'roles' => Role::cases(), 'made' => ['roles' => DrumSound::ROLES, 'parameters' => DrumSound::parameters(), 'kits' => DrumKits::NAMES]]);
        }
        $kit = $page->beat->kit;
        $others = array_filter($kit->pads, static fn (Pad $p): bool => $kit->partOf($p->id) === $kit->partOf($pad->id));
        $main = array_values(array_map(static fn (Pad $p): string => $p->main()->sample, $others));
        $samples = $this->samples->named([...array_column($pad->layers, 'sample'), ...$main]);

        return $this->show($page, ['pad' => $pad, 'kit' => new KitPage($page, $pad, $samples, array_intersect_key($samples, array_flip($main))), 'shelf' => $shelf, 'roles' => Role::cases(), 'made' => ['roles' => DrumSound::ROLES, 'parameters' => DrumSound::parameters(), 'kits' => DrumKits::NAMES]]);
    }

    #[Route('/sound')]
    public function sound(BeatRecord $record, Request $request): Response
    {
        $page = $this->page($record, 'sound', $request);

        $other = $page->beat->parts[$page->chosen('over')] ?? null;
        $exchange = null;
        if (null !== $other && $other->id !== $page->part->id) {
            try {
                $exchange = ['other' => $other, 'told' => Exchanged::told($page->beat, $page->part->id, $other->id), 'why' => ''];
            } catch (InvalidChange $e) {
                $exchange = ['other' => $other, 'told' => [], 'why' => $e->getMessage()];
            }
        }

        return $this->show($page, ['exchange' => $exchange, 'sound' => null === $page->part->keys ? null : new SoundPage($page, $page->part, $page->part->keys, 'shelf' === $page->chosen('side') ? new ShelfPage($this->shelf, $page, $page->part, true) : null)]);
    }

    #[Route('/pattern')]
    public function pattern(BeatRecord $record, Request $request): Response
    {
        $page = $this->page($record, 'pattern', $request);
        if (null === $page->pattern) {
            return $this->show($page, ['felt' => null, 'lane' => null, 'ready' => ReadyMade::all()]);
        }
        $lane = $page->part->isKit() ? $page->beat->kit->pad($page->chosen('lane')) : null;
        $group = isset(FeelPage::GROUPS[$page->chosen('feel')]) ? $page->chosen('feel') : 'swing';
        $apart = match (true) {
            null !== $lane => new FeltLane($lane->id, $lane->name),
            \in_array($page->chosen('lane'), $page->pattern->groups(), true) => FeelPage::group($page->pattern, $page->chosen('lane')),
            default => null,
        };
        $felt = new FeelPage($page->beat, $page->pattern, $apart, null === $apart && 'all' === $page->chosen('over'), $group, $this->grooves->all(), $page->section->its($page->beat->patterns));

        return $this->show($page, [
            'felt' => $felt,
            'lane' => $lane,
            'ready' => ReadyMade::all(),
            'loops' => array_values(array_filter($this->samples->loops(self::MOST_OFFERED), static fn (Sample $s): bool => [] !== $s->hits())),
            'sounds' => null === $lane ? [] : $this->samples->singles($lane->role, self::MOST_SOUNDS),
        ]);
    }

    #[Route('/arrange')]
    public function arrange(BeatRecord $record, Request $request, Library $library): Response
    {
        $page = $this->page($record, 'arrange', $request);
        if ('perform' === $page->chosen('view')) {
            $state = $this->live->of($record);

            return $this->show($page, ['live' => null === $state ? null : new LivePage($page->beat, $state)], 'arrange/perform.html.twig');
        }
        if ('song' !== $page->chosen('view')) {
            return $this->show($page, []);
        }
        $beat = $page->beat;
        $placed = new TracksPage($page, $beat, $this->samples->named(array_column($beat->clips, 'sample')));
        $sounds = null;
        if ('sounds' === $page->chosen('open')) {
            $found = $library->found(new LibrarySearch($page->library()), self::MOST_SOUNDS);
            $own = [...array_keys($beat->slices), ...array_map(static fn (Pad $p): string => $p->main()->sample, array_values($beat->kit->pads))];
            $sounds = new SoundsAtHand($beat, $this->samples->named(array_map(strval(...), $own)), ...$found);
        }

        return $this->show($page, ['song' => new SongPage($page, $beat, $placed), 'placed' => $placed, 'sounds' => $sounds, 'movers' => 'movers' === $page->chosen('open') ? new WhatCanMove($page, $beat) : null], 'arrange/song.html.twig');
    }

    #[Route('/mix')]
    public function mix(BeatRecord $record, Request $request): Response
    {
        $page = $this->page($record, 'mix', $request);

        return $this->show($page, ['mix' => new MixPage($page->beat, $page)]);
    }

    #[Route('/deliver')]
    public function deliver(BeatRecord $record, Request $request, Deliveries $deliveries): Response
    {
        $page = $this->page($record, 'deliver', $request);

        return $this->show($page, ['deliveries' => $deliveries->of($record), 'free' => $deliveries->free(), ...DeliverPage::of($page->beat)]);
    }

    /** @param list<Sample> $samples */
    private function chosen(BeatPage $page, array $samples, ?Sample $fallback = null): ?Sample
    {
        foreach ($samples as $sample) {
            if ($sample->hash === $page->chosen('sample')) {
                return $sample;
            }
        }
        $elsewhere = $this->samples->find($page->chosen('sample'));
        if (null !== $elsewhere && null === $elsewhere->clearedAt) {
            return $elsewhere;
        }

        return $fallback ?? $samples[0] ?? null;
    }

    private function page(BeatRecord $record, string $workspace, Request $request): BeatPage
    {
        $seen = $request->headers->get('X-Pestle-Head');
        $before = null !== $seen && ctype_digit($seen) ? fn (string $pattern): ?array => $this->beats->rows($record, (int) $seen, $pattern) : null;

        return new BeatPage($record, $this->beats->content($record), $this->beats->history($record), $workspace, $request, $before);
    }

    /** @param array<string, mixed> $values */
    private function show(BeatPage $page, array $values, ?string $template = null): Response
    {
        $response = $this->render($template ?? $page->workspace.'/index.html.twig', ['page' => $page, 'beat' => $page->beat, ...$values]);
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }
}
