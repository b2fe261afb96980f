<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\Sample;
use Pestle\App\Gather\Chosen;
use Pestle\App\Gather\GridStep;
use Pestle\App\Gather\Library;
use Pestle\App\Gather\LibrarySearch;
use Pestle\App\Gather\SampleFacts;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** What the maker says about samples: names, tags, favourites, corrections of guesses; and clearing out. */
#[Route('/library', methods: 'POST')]
final class LibraryController extends AbstractController
{
    public function __construct(private readonly Library $library, private readonly Chosen $chosen)
    {
    }

    /** Sets what is named in the request; answers with what was there before, so that it can be taken back. */
    #[Route('/{hash}', requirements: ['hash' => '[0-9a-f]{64}'])]
    public function describe(string $hash, Request $request): JsonResponse
    {
        $sample = $this->library->find($hash) ?? throw $this->createNotFoundException('This sample is not in the library.');

        return new JsonResponse(['before' => $this->library->describe($sample, self::fields($request))]);
    }

    /** One step in correcting the beat grid; answers as describe() does. */
    #[Route('/{hash}/grid', requirements: ['hash' => '[0-9a-f]{64}'])]
    public function grid(string $hash, Request $request): JsonResponse
    {
        $sample = $this->library->find($hash) ?? throw $this->createNotFoundException('This sample is not in the library.');
        $grid = GridStep::on($sample, self::fields($request));

        return new JsonResponse(['before' => $this->library->describe($sample, new Fields(['grid' => $grid->encode()]))]);
    }

    /** One thing said of many; answers as describe() does, and how many stay that were to go. */
    #[Route('/many')]
    public function many(Request $request): JsonResponse
    {
        return new JsonResponse($this->chosen->say(self::fields($request)));
    }

    /** Hashes of the first of what is looked for, as the address of Gather says it; and of many by their hashes what a page wants to know to put them somewhere. */
    #[Route('/{what}', requirements: ['what' => 'found|facts'])]
    public function tell(string $what, Request $request): JsonResponse
    {
        $fields = self::fields($request);
        if ('facts' === $what) {
            return new JsonResponse(['facts' => array_map(SampleFacts::of(...), $this->chosen->of($fields))]);
        }
        $search = [];
        foreach ([...LibrarySearch::FIELDS, 'sort'] as $name) {
            $search[$name] = $fields->has($name) ? $fields->text($name) : '';
        }

        return new JsonResponse(['found' => $this->chosen->found(new LibrarySearch($search)), 'most' => Chosen::MOST]);
    }

    #[Route('/clear')]
    public function clear(): JsonResponse
    {
        $cleared = $this->library->clearOut();

        return new JsonResponse(['cleared' => array_map(static fn (Sample $s): string => $s->hash, $cleared), 'bytes' => $this->library->bytes($cleared)]);
    }

    #[Route('/restore')]
    public function restore(Request $request): JsonResponse
    {
        $hashes = json_decode($request->getContent(), true);
        $hashes = \is_array($hashes) && \is_array($hashes['samples'] ?? null) ? $hashes['samples'] : throw new InvalidChange('samples must be a list of samples.');

        return new JsonResponse(['restored' => $this->library->restore(array_values(array_filter($hashes, is_string(...))))]);
    }

    private static function fields(Request $request): Fields
    {
        $data = json_decode($request->getContent(), true);

        return new Fields(\is_array($data) ? $data : throw new InvalidChange('The request must be a JSON object.'));
    }
}
