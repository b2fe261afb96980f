<?php

namespace Pestle\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Role;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Synth\DrumKits;
use Pestle\Core\Synth\DrumSound;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** Drum voices that are made: heard as they are set, and kept in the library. */
final class DrumController extends AbstractController
{
    private const RATE = 44_100;
    private const MOST = 16;
    private const HIGHEST_SEED = 999_999_999;

    public function __construct(private readonly SampleStore $samples, private readonly DataFolder $folder, private readonly EntityManagerInterface $entities)
    {
    }

    #[Route('/drums/{role}', requirements: ['role' => '[a-z-]{3,12}'], methods: 'GET')]
    public function hear(string $role, Request $request): Response
    {
        $block = self::drum(new Fields(['role' => $role, ...$request->query->all()]))->sound();
        $response = SoundController::pack(['rate' => self::RATE, 'frames' => $block->frames()], Rendered::of($block, $block->frames(), [])->packed());
        $response->headers->set('Cache-Control', 'private, max-age=86400');

        return $response;
    }

    /** Those that are given, another one like one that is given, or a whole kit, from a seed or of the shelf, become samples of the library; changes that land sounds take what is answered. */
    #[Route('/drums', methods: 'POST')]
    public function keep(Request $request): Response
    {
        $fields = new Fields(ChangeController::fields($request));
        $drums = match (true) {
            $fields->has('shelf') => DrumKits::find($fields->text('shelf')) ?? throw InvalidChange::field('shelf', 'must be one of: '.implode(', ', array_keys(DrumKits::NAMES)).'.'),
            $fields->has('kit') => DrumSound::kit($fields->whole('kit', 0, self::HIGHEST_SEED)),
            default => array_map(self::drum(...), $fields->rows('drums', self::MOST)),
        };

        return new JsonResponse(['sounds' => array_map($this->kept(...), $drums)], 201);
    }

    /** Settings of another one like it, and those of a role that was never set. */
    #[Route('/drums/{role}/another', requirements: ['role' => '[a-z-]{3,12}'], methods: 'GET')]
    public function another(string $role, Request $request): Response
    {
        $fields = new Fields(['role' => $role, ...$request->query->all()]);
        $seed = $fields->whole('seed', 0, self::HIGHEST_SEED);
        $drum = $fields->has('tune') ? self::drum($fields)->another($seed) : DrumSound::by(self::role($fields), $seed);

        return new JsonResponse([...$drum->settings(), 'seed' => $seed]);
    }

    private static function role(Fields $fields): Role
    {
        $role = $fields->choice('role', Role::class);

        return \in_array($role, DrumSound::ROLES, true) ? $role : throw InvalidChange::field('role', 'must be a drum.');
    }

    private static function drum(Fields $fields): DrumSound
    {
        return (new DrumSound(self::role($fields), seed: $fields->has('seed') ? $fields->whole('seed', 0, self::HIGHEST_SEED) : 1))->with($fields->settings(DrumSound::parameters()));
    }

    /** @return array{sample: string, name: string, frames: int, role: string, peakDb: float} */
    private function kept(DrumSound $drum): array
    {
        $block = $drum->sound();
        $path = $this->folder->incoming().'/drum-'.bin2hex(random_bytes(6)).'.wav';
        WavWriter::copy(new MemorySource($block, self::RATE), $path, SampleFormat::Int24);
        try {
            $sample = $this->samples->add($path, \sprintf('%s %d', $drum->role->label(), $drum->seed % 1000), ['made']);
        } finally {
            @unlink($path);
        }
        $sample->correct('role', $drum->role->value);
        // What it was made by, to be gone on from.
        $sample->correct('drum', (string) json_encode(['role' => $drum->role->value, ...$drum->settings(), 'seed' => $drum->seed]));
        $this->entities->flush();

        return ['sample' => $sample->hash, 'name' => $sample->name, 'frames' => $block->frames(), 'role' => $drum->role->value, 'peakDb' => round(Decibels::fromGain($block->peak()), 2)];
    }
}
