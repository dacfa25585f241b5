<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Where the construction of a tree stands, and what its rules share (HTML Living Standard, section 13.2.6).
 *
 * @internal
 */
final class Construction
{
    public const SPACE = " \t\n\f\r";

    public readonly Planter $planter;
    public readonly Stack $stack;
    public Mode $mode = Mode::Initial;
    public Mode $modeBehindText = Mode::InBody;
    /** @var list<Mode> */
    public array $templates = [];
    public ?Open $head = null;
    public ?Open $form = null;
    public bool $framesetOk = true;
    public bool $quirks = false;
    public bool $skipNewline = false;

    public function __construct(public readonly Tokenizer $tokenizer)
    {
        $this->planter = new Planter();
        $this->stack = $this->planter->stack;
    }

    public function process(Token $token): void
    {
        match ($this->mode) {
            Mode::Initial => BeforeBodyRules::initial($this, $token),
            Mode::BeforeHtml => BeforeBodyRules::beforeHtml($this, $token),
            Mode::BeforeHead => BeforeBodyRules::beforeHead($this, $token),
            Mode::InHead => BeforeBodyRules::inHead($this, $token),
            Mode::AfterHead => BeforeBodyRules::afterHead($this, $token),
            Mode::InBody => BodyRules::inBody($this, $token),
            Mode::Text => OutsideRules::inText($this, $token),
            Mode::InTable => TableRules::inTable($this, $token),
            Mode::InCaption => TableRules::inCaption($this, $token),
            Mode::InColumnGroup => TableRules::inColumnGroup($this, $token),
            Mode::InTableBody => TableRules::inTableBody($this, $token),
            Mode::InRow => TableRules::inRow($this, $token),
            Mode::InCell => TableRules::inCell($this, $token),
            Mode::InTemplate => OutsideRules::inTemplate($this, $token),
            Mode::AfterBody => OutsideRules::afterBody($this, $token),
            Mode::InFrameset => OutsideRules::inFrameset($this, $token),
            Mode::AfterFrameset => OutsideRules::afterFrameset($this, $token),
        };
    }

    public function again(Mode $mode, Token $token): void
    {
        $this->mode = $mode;
        $this->process($token);
    }

    /**
     * Parts the white space at the beginning of a text from the rest.
     *
     * @return array{string, Token|null}
     */
    public static function parted(Token $token): array
    {
        $space = strspn($token->text, self::SPACE);
        $rest = substr($token->text, $space);

        return [substr($token->text, 0, $space), '' === $rest ? null : new Token(TokenKind::Text, '', $rest)];
    }

    /** Plants the white space at the beginning of a text, and gives the rest. */
    public function behindSpace(Token $token): ?Token
    {
        if (TokenKind::Text !== $token->kind) {
            return $token;
        }
        [$space, $rest] = self::parted($token);
        if ('' !== $space) {
            $this->planter->text($space);
        }

        return $rest;
    }

    public function moreOfHtml(Token $token): void
    {
        if (null === $this->stack->lastPlace('template')) {
            $this->planter->tree->addAttributes($this->stack->at(0)->node, $token->attributes);
        }
    }

    public function headElement(Token $token): void
    {
        if ('template' === $token->name) {
            $this->planter->open($token);
            $this->planter->mark();
            $this->framesetOk = false;
            $this->mode = Mode::InTemplate;
            $this->templates[] = Mode::InTemplate;
        } elseif (isset(Kinds::RAW[$token->name])) {
            $this->raw($token);
        } else {
            $this->planter->put($token);
        }
    }

    public function raw(Token $token): void
    {
        $this->planter->open($token);
        $this->tokenizer->readRaw($token->name);
        $this->modeBehindText = $this->mode;
        $this->mode = Mode::Text;
        $this->skipNewline = 'textarea' === $token->name;
    }

    public function endTemplate(): void
    {
        if (null === $this->stack->lastPlace('template')) {
            return;
        }
        $this->stack->popUntil(['template' => 1]);
        $this->planter->clearToMarker();
        array_pop($this->templates);
        $this->resetMode();
    }

    /** Section 13.2.4.1, "reset the insertion mode appropriately". */
    public function resetMode(): void
    {
        for ($i = $this->stack->count() - 1; $i >= 0; --$i) {
            $one = $this->stack->at($i);
            $mode = MarkupVocabulary::Html !== $one->vocabulary ? null : match ($one->name) {
                'td', 'th' => $i > 0 ? Mode::InCell : null,
                'tr' => Mode::InRow,
                'tbody', 'thead', 'tfoot' => Mode::InTableBody,
                'caption' => Mode::InCaption,
                'colgroup' => Mode::InColumnGroup,
                'table' => Mode::InTable,
                'template' => [] === $this->templates ? Mode::InBody : $this->templates[\count($this->templates) - 1],
                'head' => Mode::InHead,
                'body' => Mode::InBody,
                'frameset' => Mode::InFrameset,
                'html' => null === $this->head ? Mode::BeforeHead : Mode::AfterHead,
                default => null,
            };
            if (null !== $mode) {
                $this->mode = $mode;

                return;
            }
        }
        $this->mode = Mode::InBody;
    }
}
