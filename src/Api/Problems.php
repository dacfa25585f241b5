<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Contracts\Translation\TranslatorInterface;

/** Errors as programs read them (RFC 9457). */
final readonly class Problems
{
    public function __construct(private TranslatorInterface $translator)
    {
    }

    /**
     * @param array<mixed> $fields of the answer's head
     * @param array<string, mixed> $more members of the problem
     */
    public function answer(int $status, array $fields = [], array $more = []): JsonResponse
    {
        $response = new JsonResponse([
            'type' => 'about:blank', 'title' => Response::$statusTexts[$status] ?? 'Error', 'status' => $status,
            'detail' => $this->detail($status),
        ] + $more, $status, $fields);
        $response->setEncodingOptions(\JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES);
        $response->headers->set('Content-Type', 'application/problem+json');
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    private function detail(int $status): string
    {
        return match ($status) {
            400 => $this->translator->trans('problem.bad_value'),
            401 => $this->translator->trans('problem.no_token'),
            403 => $this->translator->trans('problem.not_allowed'),
            404 => $this->translator->trans('problem.nothing_here'),
            405 => $this->translator->trans('problem.other_method'),
            409 => $this->translator->trans('problem.conflict'),
            412 => $this->translator->trans('problem.changed_meanwhile'),
            413 => $this->translator->trans('problem.too_large'),
            415 => $this->translator->trans('problem.other_type'),
            422 => $this->translator->trans('problem.wrong_fields'),
            428 => $this->translator->trans('problem.say_which_state'),
            429 => $this->translator->trans('problem.too_often'),
            default => $this->translator->trans('problem.unexpected'),
        };
    }
}
