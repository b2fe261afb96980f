<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Fit;

/** What would make a recording fit the beat, and others that could take its place. */
final readonly class ChopFits
{
    public function __construct(private ChopPage $chop)
    {
    }

    /** @return list<array{name: string, fit: Fit}> what would make it fit, the whole of it first */
    public function all(): array
    {
        [$chop, $sample, $beat] = [$this->chop, $this->chop->sample, $this->chop->beat];
        $fits = [];
        $counted = $chop->counted();
        $from = $chop->key();
        $key = null === $from || null === $beat->key ? null : Fit::key($from, $beat->key, tuning: $chop->tuning());
        if (null !== $counted->bpm) {
            $at = static fn (int $times = 1): Fit => Fit::tempo($counted, $beat->tempo->bpm, $times);
            $follow = $this->follow();
            $tempo = true === $sample->grid()?->isEven() ? $at() : $follow ?? $at();
            if (null !== $key) {
                $fits[] = ['name' => 'Fit to the beat', 'fit' => $tempo->and($key)];
            }
            if ($tempo !== $follow) {
                $fits[] = ['name' => 'Tempo only', 'fit' => $tempo];
            }
            if (null !== $follow) {
                $fits[] = ['name' => 'Follow the tempo', 'fit' => $follow];
            }
            $fits[] = ['name' => 'Half-time', 'fit' => $at(2)];
            $fits[] = ['name' => 'Double-time', 'fit' => $at(-2)];
        }
        if (null !== $counted->bpm || $sample->seconds() > 2.0) {
            $aBar = $beat->meter->quarters();
            $wanted = max(1, (int) round($chop->seconds() * $beat->tempo->bpm / 60.0 / $aBar));
            $fits[] = ['name' => \sprintf('Exactly %d %s', $wanted, 1 === $wanted ? 'bar' : 'bars'), 'fit' => Fit::bars($wanted, $aBar, $beat->tempo->bpm, $chop->frames, $sample->rate)];
        }
        if (null !== $from && null !== $beat->key && null !== $key) {
            $fits[] = ['name' => 'Key, the shorter way', 'fit' => $key];
            if ([] !== $key->edits) {
                $fits[] = ['name' => 'Key, the other way', 'fit' => Fit::key($from, $beat->key, false, $chop->tuning())];
            }
        }
        $note = $sample->pitch();
        if (null !== $note && null !== $beat->key) {
            $fits[] = ['name' => 'Tune to the home chord', 'fit' => Fit::note($note + $chop->shift(), ...$beat->key->homeChord())];
        }

        return $fits;
    }

    /** Keeps time with the beat from now on; null where no beats are known. */
    private function follow(): ?Fit
    {
        $chop = $this->chop;
        if ([] !== array_filter($chop->edits->list, static fn (Edit $edit): bool => $edit->on && $edit->follows())) {
            return Fit::already('Follows the tempo already');
        }
        $lines = $chop->lines();

        return \count($lines) < 2 ? null : Fit::follow($lines, $chop->counted(), $chop->beat->tempo->bpm, $chop->sample->frames);
    }

    /**
     * Makes another recording as long as this one is now, at the beat's tempo and in this one's key.
     *
     * @return array{change: array<string, mixed>, fit: Fit}
     */
    public function exchange(Sample $other): array
    {
        $there = new ChopPage($other, $this->chop->beat->with(['edits' => []]));
        $fit = Fit::inPlace($there->counted(), $this->chop->beat->tempo->bpm, $this->chop->seconds());
        [$from, $to] = [$there->key(), $this->chop->key()];
        $fit = null === $from || null === $to ? $fit : $fit->and(Fit::key($from, $to));
        $sample = $this->chop->sample;

        return ['fit' => $fit, 'change' => [
            'type' => 'exchange-sample',
            'sample' => $sample->hash, 'frames' => $this->chop->frames, 'name' => $sample->name,
            'with' => $other->hash, 'withFrames' => $other->frames, 'withRate' => $other->rate, 'withName' => $other->name,
            'edits' => (new Edits($fit->edits))->toArray(),
        ]];
    }
}
