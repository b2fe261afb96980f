<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\ShelvedGroove;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Grooves;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Pattern\Scatter;
use Pestle\Core\Pattern\SwingOn;

/** How a pattern is felt, or one of its lanes, or all patterns of a section: in words, and as it is set; and where its hits fall by it. */
final readonly class FeelPage
{
    public const GROUPS = ['swing' => 'Swing', 'groove' => 'Groove', 'grid' => 'Quantise', 'time' => 'Timing', 'strength' => 'Strength'];
    private const GRIDS = [960 => '1/4', 480 => '1/8', 320 => '1/8 triplet', 240 => '1/16', 160 => '1/16 triplet', 120 => '1/32', 80 => '1/32 triplet', 60 => '1/64'];

    public Feel $feel;
    /** @var list<string> patterns that are set */
    public array $patterns;

    /**
     * @param FeltLane|null       $lane    the lane or group that is chosen
     * @param bool                $all     whether all patterns of the section are set
     * @param list<ShelvedGroove> $shelved
     * @param list<Pattern>       $section patterns of the section
     */
    public function __construct(private Beat $beat, public Pattern $pattern, public ?FeltLane $lane, public bool $all, public string $group, private array $shelved, array $section)
    {
        $this->feel = $pattern->feelOf($lane?->id);
        $this->patterns = $all ? array_map(static fn (Pattern $p): string => $p->id, $section) : [$pattern->id];
    }

    /** @return array<string, mixed> the change that sets it, but for what is set */
    public function set(): array
    {
        return ['type' => 'set-feel', 'patterns' => $this->patterns, ...null === $this->lane ? [] : ['lane' => $this->lane->id]];
    }

    /** @return array<string, mixed> */
    public function write(): array
    {
        return ['type' => 'write-feel', 'patterns' => $this->patterns, ...null === $this->lane ? [] : ['lane' => $this->lane->id]];
    }

    /** Whether the chosen lane has a feel of its own. */
    public function isOwn(): bool
    {
        return null !== $this->lane && null !== $this->pattern->lane($this->lane->id)->feel;
    }

    /** @return list<FeltLane> groups of notes or hits that are felt apart */
    public function groups(): array
    {
        return array_map(fn (string $id): FeltLane => self::group($this->pattern, $id), $this->pattern->groups());
    }

    public static function group(Pattern $pattern, string $id): FeltLane
    {
        return new FeltLane($id, ([] === $pattern->hits ? 'Notes ' : 'Hits ').substr($id, \strlen(Pattern::GROUP)), true);
    }

    /** @return array<string, mixed> the change that gives a chosen group back to the rest */
    public function together(): array
    {
        $isMeant = fn (Hit|Note $event): bool => $event->group === $this->lane?->id;

        return [
            'type' => 'feel-apart', 'pattern' => $this->pattern->id, 'group' => '',
            'hits' => array_values(array_map(static fn (Hit $h): array => [$h->tick, $h->pad], array_filter($this->pattern->hits, $isMeant))),
            'notes' => array_values(array_map(static fn (Note $n): array => [$n->tick, $n->pitch], array_filter($this->pattern->notes, $isMeant))),
        ];
    }

    /** @return array<string, string> each group of settings in a few words */
    public function said(): array
    {
        $f = $this->feel;
        $number = static fn (float $value): string => rtrim(rtrim(number_format($value, 1), '0'), '.');
        $late = array_filter([
            0.0 === $f->shiftTicks ? '' : \sprintf('%+d ticks', $f->shiftTicks),
            0.0 === $f->shiftMs ? '' : \sprintf('%s%s ms', $f->shiftMs > 0 ? '+' : '−', $number(abs($f->shiftMs))),
            0.0 === $f->timingMs ? '' : \sprintf('± %s ms', $number($f->timingMs)),
        ]);
        $strength = array_filter([
            100.0 === $f->spread ? '' : \sprintf('spread %d %%', $f->spread),
            match ($f->scatter) {
                Scatter::None => '',
                Scatter::Around => '± '.$f->around,
                Scatter::Between => $f->softest.' to '.$f->hardest,
            },
        ]);

        return [
            'swing' => 50.0 === $f->swing ? 'straight' : $number($f->swing).' % on '.(SwingOn::Eighths === $f->swingOn ? '1/8' : '1/16'),
            'groove' => '' === $f->groove ? 'none' : \sprintf('%s, %d %%', $this->beat->groove($f->groove)->name ?? 'gone', $f->grooveTiming),
            'grid' => 0.0 === $f->quantise ? 'as played' : \sprintf('%d %% to %s', $f->quantise, self::GRIDS[$f->grid] ?? $f->grid.' ticks'),
            'time' => [] === $late ? 'on time' : implode(', ', $late),
            'strength' => [] === $strength ? 'as played' : implode(', ', $strength),
        ];
    }

    /** @return array<int, string> */
    public function grids(): array
    {
        return self::GRIDS;
    }

    /** @return array<string, string> names of what comes with Pestle and what is in the beat, by id */
    public function grooves(): array
    {
        return array_map(static fn (Groove $g): string => $g->name, [...Grooves::all(), ...$this->beat->grooves]);
    }

    /** @return list<array{name: string, change: array<string, mixed>}> grooves of the shelf that are not in the beat, and what lays them on */
    public function shelf(): array
    {
        $there = array_map(static fn (Groove $g): string => $g->name, $this->beat->grooves);
        $list = [];
        foreach ($this->shelved as $groove) {
            if (!\in_array($groove->name, $there, true)) {
                $list[] = ['name' => $groove->name, 'change' => ['type' => 'add-groove', 'id' => $this->beat->nextGrooveId(), 'name' => $groove->name, 'grid' => $groove->grid, 'slots' => $groove->slots, 'onto' => $this->patterns]];
            }
        }

        return $list;
    }

    /** The groove by which it is felt, where it is one of the beat's own. */
    public function own(): ?Groove
    {
        return $this->beat->grooves[$this->feel->groove] ?? null;
    }

    /**
     * Where hits and notes are heard that the feel moves, and how strong: tick, pad or pitch, heard tick, heard strength.
     * Empty where it does no more than swing, which the page works out itself as it draws.
     *
     * @return list<list<int|float|string>>
     */
    public function heard(): array
    {
        $rows = [];
        $feelings = [];
        foreach ([...$this->pattern->hits, ...$this->pattern->notes] as $event) {
            $feel = $this->pattern->feelFor($event);
            if (!$feel->on || $feel->isOnlySwing() && $feel === $this->pattern->feel) {
                continue;
            }
            $played = ($feelings[$this->pattern->feltBy($event) ?? ''] ??= $this->beat->feeling($feel))->played($event);
            $rows[] = [$event->tick, $event instanceof Note ? $event->pitch : $event->pad, round($played->tick + $played->fine / Hit::FINE, 1), $played->velocity];
        }

        return $rows;
    }
}
