<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Sound\PadSound;
use Pestle\App\Storage\History;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Pattern;
use Symfony\Component\HttpFoundation\Request;

/** What every workspace of a beat shows and which of its things are chosen; the choice is in the address. */
final readonly class BeatPage
{
    public const WORKSPACES = ['gather' => 'Gather', 'chop' => 'Chop', 'kit' => 'Kit', 'pattern' => 'Pattern', 'mix' => 'Mix', 'deliver' => 'Deliver'];
    /** Keys of the sixteen places, by position on the keyboard: left hand, right hand, upper row first. */
    public const KEYS = ['Q', 'W', 'E', 'R', 'U', 'I', 'O', 'P', 'A', 'S', 'D', 'F', 'J', 'K', 'L', ';'];
    private const CHOICES = ['pattern', 'bank', 'pad', 'channel', 'sample', 'tool'];

    public Bank $bank;
    public Pattern $pattern;
    /** @var array<string, string> */
    private array $chosen;

    public function __construct(public BeatRecord $record, public Beat $beat, public History $history, public string $workspace, Request $request)
    {
        $chosen = [];
        foreach (self::CHOICES as $name) {
            $value = $request->query->all()[$name] ?? null;
            if (\is_string($value) && '' !== $value) {
                $chosen[$name] = $value;
            }
        }
        $this->chosen = $chosen;
        $this->bank = $beat->kit->bank($this->chosen('bank')) ?? $beat->kit->banks[0];
        $first = array_key_first($beat->patterns) ?? throw new \OutOfBoundsException('This beat has no pattern.');
        $this->pattern = $beat->patterns[$this->chosen('pattern')] ?? $beat->patterns[$first];
    }

    public function chosen(string $name): string
    {
        return $this->chosen[$name] ?? '';
    }

    /**
     * The address of a workspace with what is chosen here, and with other choices.
     *
     * @param array<string, string> $choices
     */
    public function url(?string $workspace = null, array $choices = []): string
    {
        $query = http_build_query([...$this->chosen, ...$choices]);

        return \sprintf('/beats/%d/%s%s', $this->record->id, $workspace ?? $this->workspace, '' === $query ? '' : '?'.$query);
    }

    /** @return list<array{id: string, key: string, pad: Pad|null, left: bool}> the sixteen places of the bank that is open */
    public function places(): array
    {
        $places = [];
        foreach ($this->bank->padIds() as $i => $id) {
            $places[] = ['id' => $id, 'key' => self::KEYS[$i], 'pad' => $this->beat->kit->pad($id), 'left' => 0 === intdiv($i, 4) % 2];
        }

        return $places;
    }

    /** @return list<Pad> pads of the open bank, and others that play in the pattern */
    public function lanes(): array
    {
        $playing = array_flip(array_map(static fn ($hit): string => $hit->pad, $this->pattern->hits));

        return array_values(array_filter(
            $this->beat->kit->pads,
            fn (Pad $pad): bool => isset($playing[$pad->id]) || \in_array($pad->id, $this->bank->padIds(), true),
        ));
    }

    public function pad(): ?Pad
    {
        return $this->beat->kit->pad($this->chosen('pad')) ?? array_values(array_filter($this->places(), static fn (array $p): bool => null !== $p['pad']))[0]['pad'] ?? null;
    }

    /** Changes when the pad would sound different on its own. */
    public function soundKey(Pad $pad): string
    {
        return PadSound::key($this->beat, $pad);
    }

    /** @return list<int> strengths at which the pad's sound is fetched */
    public function strengths(Pad $pad): array
    {
        return PadSound::strengths($this->beat, $pad);
    }

    /**
     * What the page's scripts need to know.
     *
     * @return array<string, mixed>
     */
    public function forScripts(): array
    {
        return [
            'beat' => $this->record->id,
            'head' => $this->record->head,
            // The same wherever undo and redo lead back to the same state.
            'place' => $this->history->undoTo ?? 0,
            'pattern' => $this->pattern->id,
            'ticks' => $this->pattern->lengthTicks(),
            'bpm' => $this->beat->tempo->bpm,
            'workspace' => $this->workspace,
            'order' => $this->beat->order->parts,
            'patternTicks' => array_map(static fn (Pattern $p): int => $p->lengthTicks(), $this->beat->patterns),
        ];
    }
}
