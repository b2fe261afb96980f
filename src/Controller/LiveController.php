<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Gather\Uploads;
use Pestle\App\Live\LiveSets;
use Pestle\App\Live\LiveState;
use Pestle\App\Page\LivePage;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveChoice;
use Pestle\Core\Song\LiveSet;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** What is chosen while a beat is performed. All answers are the performance as it is then. */
#[Route('/beats/{beat}/live', requirements: ['beat' => '\d{1,9}'])]
final class LiveController extends AbstractController
{
    /** Bars that are caught at once. */
    private const MOST_CAUGHT = 64;

    public function __construct(private readonly LiveSets $sets, private readonly Beats $beats)
    {
    }

    /** @param int|null $from tick at which whoever asks would begin to play */
    private function answer(BeatRecord $record, LiveState $state, ?int $from = null): JsonResponse
    {
        $page = new LivePage($this->beats->content($record), $state);
        $segment = null === $from ? [] : ['segment' => SongPlaces::segmentOf($this->sets->song($record), $from), 'from' => $from];

        return new JsonResponse([...$page->toArray(), ...$segment], 200, ['Cache-Control' => 'no-store']);
    }

    #[Route('', methods: 'GET')]
    public function show(BeatRecord $record, Request $request): JsonResponse
    {
        $state = $this->sets->of($record);
        if (null === $state) {
            return new JsonResponse(['version' => 0], 200, ['Cache-Control' => 'no-store']);
        }

        return $this->answer($record, $state, $request->query->has('play') ? $state->now : null);
    }

    /** Begins anew with what a section plays. */
    #[Route('/begin', methods: 'POST')]
    public function begin(BeatRecord $record, Request $request): JsonResponse
    {
        $fields = new Fields(ChangeController::fields($request));
        $section = $this->beats->content($record)->section($fields->id('section'));

        return $this->answer($record, $this->sets->change($record, static fn (?LiveState $was): LiveState => new LiveState(($was->version ?? 0) + 1, 0, LiveSet::begin($section))), 0);
    }

    /** Says what is heard, so that there is always more ahead. */
    #[Route('/now', methods: 'POST')]
    public function now(BeatRecord $record, Request $request): JsonResponse
    {
        $at = (new Fields(ChangeController::fields($request)))->whole('at', 0, LiveFields::MOST_TICKS);

        return $this->answer($record, $this->sets->change($record, static fn (?LiveState $was): LiveState => self::begun($was)->at($at)));
    }

    /**
     * Chooses "patterns" of parts, a "section" for all, who is "muted", or an effect that is "held", to "wait" for the bar or for something else, from the tick "at" on.
     */
    #[Route('/choose', methods: 'POST')]
    public function choose(BeatRecord $record, Request $request): JsonResponse
    {
        $fields = new Fields(ChangeController::fields($request));
        $beat = $this->beats->content($record);
        $at = $fields->whole('at', 0, LiveFields::MOST_TICKS);
        $wait = $fields->has('wait') ? $fields->text('wait', 4) : 'bar';
        [$patterns, $muted, $held] = self::chosen($beat, $fields);

        return $this->answer($record, $this->sets->change($record, static function (?LiveState $was) use ($beat, $at, $wait, $patterns, $muted, $held): LiveState {
            $state = self::begun($was)->at($at);
            if (\count($state->set->choices) >= LiveSet::MOST) {
                throw new InvalidChange(\sprintf('%d choices are as many as a song can hold. Make it the song, or begin anew.', LiveSet::MOST));
            }
            // For its end the longest of what plays counts.
            [$length, $since] = [0, 0];
            foreach (array_intersect_key($state->set->playing($at), $patterns + $muted) as [$id, $from]) {
                $ticks = $beat->patterns[$id]->ticks ?? 0;
                [$length, $since] = $ticks > $length ? [$ticks, $from] : [$length, $since];
            }
            $tick = LiveSet::comes($wait, $at, $beat->meter, $length, $since);
            foreach (array_keys($held, false, true) as $effect) {
                // However short it was held, it is heard.
                [$name, $part] = [...explode('/', $effect), ''];
                $begun = $state->set->held(HeldEffect::from($name), $part);
                $tick = max($tick, ([] === $begun ? 0 : $begun[\count($begun) - 1][0]) + LiveSet::FINEST);
            }

            return $state->with($state->set->with(new LiveChoice($state->set->nextId(), $tick, $patterns, $muted, $held), $at));
        }));
    }

    /** Takes back what is still to come. */
    #[Route('/take-back', methods: 'POST')]
    public function takeBack(BeatRecord $record, Request $request): JsonResponse
    {
        $fields = new Fields(ChangeController::fields($request));
        [$id, $at] = [$fields->id('choice'), $fields->whole('at', 0, LiveFields::MOST_TICKS)];

        return $this->answer($record, $this->sets->change($record, static fn (?LiveState $was): LiveState => self::begun($was)->with(self::begun($was)->set->without($id, $at))));
    }

    /** The last bars become a sample, going round. */
    #[Route('/catch', methods: 'POST')]
    public function catch(BeatRecord $record, Request $request, Uploads $uploads): JsonResponse
    {
        $fields = new Fields(ChangeController::fields($request));
        $beat = $this->beats->content($record);
        $bar = $beat->meter->barTicks();
        $to = max(1, intdiv($fields->whole('at', 0, LiveFields::MOST_TICKS), $bar)) * $bar;
        $from = max(0, $to - $fields->whole('bars', 1, self::MOST_CAUGHT) * $bar);
        $name = \sprintf('%s, bars %d to %d', $beat->name, 1 + intdiv($from, $bar), intdiv($to, $bar));
        $upload = $uploads->caught($record, $name, self::begun($this->sets->of($record))->set, $from, $to, $fields->flag('wet'));

        return new JsonResponse(['id' => $upload->id], 201);
    }

    /** The last bars were not played; it goes on from where they began. */
    #[Route('/forget', methods: 'POST')]
    public function forget(BeatRecord $record, Request $request): JsonResponse
    {
        $fields = new Fields(ChangeController::fields($request));
        $bar = $this->beats->content($record)->meter->barTicks();
        $from = max(0, intdiv($fields->whole('at', 0, LiveFields::MOST_TICKS), $bar) - $fields->whole('bars', 1, 64)) * $bar;

        return $this->answer($record, $this->sets->change($record, static fn (?LiveState $was): LiveState => new LiveState(self::begun($was)->version + 1, $from, self::begun($was)->set->until($from))), $from);
    }

    private static function begun(?LiveState $state): LiveState
    {
        return $state ?? throw new InvalidChange('Nothing is performed: begin first.');
    }

    /** @return array{array<string, string|null>, array<string, bool>, array<string, bool>} patterns and mutes by part, and what is held */
    private static function chosen(Beat $beat, Fields $fields): array
    {
        $patterns = $muted = [];
        if ($fields->has('section')) {
            $section = $beat->section($fields->id('section'));
            foreach (array_map(strval(...), array_keys($beat->parts)) as $part) {
                $patterns[$part] = $section->patterns[$part] ?? null;
                $muted[$part] = \in_array($part, $section->muted, true);
            }
        } elseif ($fields->has('patterns')) {
            foreach ($fields->nested('patterns')->keys() as $part) {
                $its = $fields->nested('patterns')->has($part) ? $beat->pattern($fields->nested('patterns')->id($part)) : null;
                if (null !== $its && $its->part !== $part) {
                    throw InvalidChange::field('patterns', \sprintf('must be patterns of their parts; %s is none of %s.', $its->name, $beat->part($part)->name));
                }
                $patterns[$beat->part($part)->id] = $its?->id;
            }
        }
        foreach ($fields->has('muted') ? $fields->nested('muted')->keys() : [] as $part) {
            $muted[$beat->part($part)->id] = $fields->nested('muted')->flag($part);
        }

        $held = [];
        foreach ($fields->has('held') ? $fields->nested('held')->keys() : [] as $effect) {
            $key = LiveFields::effect($effect);
            str_contains($key, '/') && $beat->part(explode('/', $key)[1]);
            $held[$key] = $fields->nested('held')->flag($effect);
        }

        return [] === $patterns && [] === $muted && [] === $held ? throw InvalidChange::field('patterns', 'must say what is chosen.') : [$patterns, $muted, $held];
    }
}
