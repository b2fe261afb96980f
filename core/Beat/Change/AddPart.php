<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\OtherSound;
use Pestle\Core\Beat\RecordedNotes;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Kit\Zones;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;
use Pestle\Core\Synth\Shelf;

/**
 * Adds a part: a kit with an empty bank, or a sample, several recorded notes or a made sound to be played on keys, with a channel of its own. It gets an empty
 * pattern in the section that is named, so that it can be played and recorded at once.
 */
final readonly class AddPart implements Change
{
    private function __construct(private string $id, private string $name, private ?Keys $keys, private ?string $section)
    {
    }

    public static function from(Fields $fields): self
    {
        $keys = $fields->has('sounds') ? new Keys(Zones::spread(RecordedNotes::read($fields)), '') : null;
        $keys ??= $fields->has('sound') ? KitCodec::keys($fields->nested('sound')) : null;
        $keys ??= $fields->has('shelf') ? OtherSound::read($fields)->for(Shelf::plain()) : null;
        $keys ??= !$fields->has('sample') ? null : new Keys([new Zone(
            self::sound($fields),
            $fields->whole('rootCents', 0, 100 * Zone::HIGHEST),
        )], '');

        return new self($fields->id('id'), $fields->text('name'), $keys, $fields->has('section') ? $fields->id('section') : null);
    }

    private static function sound(Fields $fields): Layer
    {
        $loop = $fields->has('loopStart') ? ['loopStart' => $fields->frame('loopStart'), 'loopEnd' => $fields->frame('loopEnd', 1)] : [];
        try {
            return (new Layer($fields->text('name'), $fields->hash('sample'), $fields->frame('start'), $fields->frame('end', $fields->frame('start') + 1)))->with($loop);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->parts[$this->id])) {
            throw new InvalidChange('A part with this id is in the beat already.');
        }
        if (null === $this->keys) {
            $bank = $beat->kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.');
            $beat = $beat->withPart(new Part($this->id, $this->name))->withKit($beat->kit->withBank(new Bank($bank, Bank::NAME.' 1', $this->id)));
        } else {
            $channel = Node::channel($beat->mixer->nextId(NodeKind::Channel), $this->name, null);
            $beat = $beat->withMixer($beat->mixer->with($channel))->withPart(new Part($this->id, $this->name, null, $this->keys->with(['channel' => $channel->id])));
        }
        if (null === $this->section) {
            return $beat;
        }
        $section = $beat->section($this->section);
        $pattern = Pattern::empty($beat->nextPatternId(), $this->name, $this->id, $section->loopTicks($beat->patterns, $beat->meter));

        return $beat->withPattern($pattern)->withSection($section->withCell($this->id, $pattern->id));
    }

    public function label(Beat $beat): string
    {
        return null === $this->keys ? 'New kit' : $this->name.' on keys';
    }

    public function touches(): array
    {
        return ['part/'.$this->id, 'kit/new', 'mixer/new', 'pattern/new', ...(null === $this->section ? [] : ['section/'.$this->section])];
    }
}
