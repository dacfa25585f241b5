<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Twig\Environment;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Warc\WarcError;

/** The report of a comparison, as a page that stands by itself. */
final readonly class ComparisonReports
{
    public function __construct(private Comparisons $comparisons, private NoiseSettings $noise, private Environment $twig)
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
     * @param bool $printed whether it is for paper
     *
     * @throws WarcError
     */
    public function html(Capture $old, Capture $new, bool $printed): string
    {
        return $this->twig->render('compare/report.html.twig', $this->facts($old, $new) + ['printed' => $printed]);
    }
}
