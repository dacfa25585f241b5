<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Twig\Environment;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Warc\WarcError;

/** The report of a comparison, as a page that stands by itself. */
final readonly class ComparisonReports
{
    public function __construct(private Comparisons $comparisons, private NoiseSettings $noise, private Environment $twig,
        private UrlGeneratorInterface $urls)
    {
    }

    /**
     * @return array<string, mixed> what the templates of the report take
     *
     * @throws WarcError
     */
    public function facts(Capture $old, Capture $new): array
    {
        $compared = $this->comparisons->between($old, $new);
        $rules = $this->noise->rules($new->address);

        return [
            'old' => $old, 'new' => $new, 'compared' => $compared, 'comparison' => $compared->report->comparison,
            'report' => $compared->report,
            'groups' => $compared->byWeight(), 'rules' => $rules->toJson(), 'has_rules' => [] !== $rules->rules,
        ];
    }

    /**
     * @return array{
     *     old: array<string, string|int|null>, new: array<string, string|int|null>, rules: mixed, comparison: array<string, mixed>,
     * } as programs take it
     *
     * @throws WarcError
     */
    public function data(Capture $old, Capture $new): array
    {
        return [
            'old' => $this->about($old), 'new' => $this->about($new),
            'rules' => json_decode($this->noise->rules($new->address)->toJson(), true),
            'comparison' => $this->comparisons->between($old, $new)->report->data(),
        ];
    }

    /**
     * @param bool $printed whether it is for paper
     *
     * @throws WarcError
     */
    public function html(Capture $old, Capture $new, bool $printed): string
    {
        return $this->twig->render('compare/report.html.twig', $this->facts($old, $new) + ['printed' => $printed]);
    }

    /** @return array<string, string|int|null> */
    private function about(Capture $capture): array
    {
        return [
            'url' => $capture->url, 'capturedAt' => $capture->capturedAt->format('Y-m-d\TH:i:s.u\Z'),
            'permanentAddress' => $this->urls->generate('read', ['code' => $capture->code], UrlGeneratorInterface::ABSOLUTE_URL),
            'file' => basename($capture->warcFile->path), 'fileSha256' => $capture->warcFile->sha256,
            'payloadSha256' => $capture->payloadSha256, 'status' => $capture->status,
        ];
    }
}
